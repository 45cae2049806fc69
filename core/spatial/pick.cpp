#include "core/spatial/pick.h"

#include <embree3/rtcore.h>

#include <limits>

#include "core/mesh/measures.h"

namespace anvil {

struct Picker::Scene {
    RTCDevice device = rtcNewDevice("threads=1");
    RTCScene scene = rtcNewScene(device);
    Vec3 center;  // single precision holds small numbers best
    ~Scene() {
        rtcReleaseScene(scene);
        rtcReleaseDevice(device);
    }
};

Picker::Picker(const Mesh& mesh) : scene_(std::make_unique<Scene>()) {
    scene_->center = bounds(mesh).center();
    if (!mesh.empty()) {
        RTCGeometry geometry = rtcNewGeometry(scene_->device, RTC_GEOMETRY_TYPE_TRIANGLE);
        auto* points = static_cast<float*>(
            rtcSetNewGeometryBuffer(geometry, RTC_BUFFER_TYPE_VERTEX, 0, RTC_FORMAT_FLOAT3, 12, mesh.points.size()));
        for (const Vec3& p : mesh.points)
            for (int k = 0; k < 3; ++k) *points++ = static_cast<float>(p[k] - scene_->center[k]);
        auto* corners = static_cast<std::uint32_t*>(
            rtcSetNewGeometryBuffer(geometry, RTC_BUFFER_TYPE_INDEX, 0, RTC_FORMAT_UINT3, 12, mesh.faces.size()));
        for (const Triangle& t : mesh.faces)
            for (VertexId v : t) *corners++ = v.value();
        rtcCommitGeometry(geometry);
        rtcAttachGeometry(scene_->scene, geometry);
        rtcReleaseGeometry(geometry);
    }
    rtcCommitScene(scene_->scene);
}
Picker::~Picker() = default;
Picker::Picker(Picker&&) noexcept = default;
Picker& Picker::operator=(Picker&&) noexcept = default;

std::optional<Picker::Hit> Picker::first_hit(const Vec3& origin, const Vec3& direction) const {
    const Vec3 o = origin - scene_->center;
    RTCRayHit query{};
    query.ray.org_x = static_cast<float>(o.x);
    query.ray.org_y = static_cast<float>(o.y);
    query.ray.org_z = static_cast<float>(o.z);
    query.ray.dir_x = static_cast<float>(direction.x);
    query.ray.dir_y = static_cast<float>(direction.y);
    query.ray.dir_z = static_cast<float>(direction.z);
    query.ray.tfar = std::numeric_limits<float>::infinity();
    query.ray.mask = 0xffffffffu;
    query.hit.geomID = RTC_INVALID_GEOMETRY_ID;
    RTCIntersectContext context;
    rtcInitIntersectContext(&context);
    rtcIntersect1(scene_->scene, &context, &query);
    if (query.hit.geomID == RTC_INVALID_GEOMETRY_ID) return std::nullopt;
    return Hit{query.ray.tfar, FaceId(query.hit.primID)};
}

}  // namespace anvil
