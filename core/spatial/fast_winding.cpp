#include "core/spatial/fast_winding.h"

#include <algorithm>
#include <numeric>

#include "core/mesh/measures.h"
#include "core/spatial/solid_angle.h"

namespace anvil {
namespace {

constexpr std::uint32_t leaf_size = 8;
/// How many times its radius a group is away where it is taken as one. The error of a group is of the order of the
/// square of the inverse.
constexpr double far_away = 3;

}  // namespace

FastWinding::FastWinding(const Mesh& mesh, const Progress* progress) : mesh_(mesh), order_(mesh.faces.size()) {
    for (std::size_t f = 0; f < order_.size(); ++f) order_[f] = FaceId(f);
    std::vector<Vec3> middles;
    for (const FaceId f : order_) middles.push_back(face_middle(mesh, f));
    if (!order_.empty()) build(0, static_cast<std::uint32_t>(order_.size()), middles, progress);
}

std::uint32_t FastWinding::build(std::uint32_t first, std::uint32_t count, const std::vector<Vec3>& middles,
                                 const Progress* progress) {
    const auto number = static_cast<std::uint32_t>(nodes_.size());
    nodes_.emplace_back();
    Node node;
    Box box;
    double total = 0;
    Vec3 weighted;
    for (std::uint32_t i = first; i < first + count; ++i) {
        const FaceId f = order_[i];
        const Vec3& a = mesh_.corner(f, 0);
        const Vec3 vector = cross(mesh_.corner(f, 1) - a, mesh_.corner(f, 2) - a) * 0.5;
        const double area = norm(vector);
        node.area = node.area + vector;
        weighted = weighted + middles[f.value()] * area;
        total += area;
        box.add(middles[f.value()]);
    }
    node.center = total > 0 ? weighted * (1 / total) : box.center();
    for (std::uint32_t i = first; i < first + count; ++i)
        for (int k = 0; k < 3; ++k) node.radius = std::max(node.radius, norm(mesh_.corner(order_[i], k) - node.center));
    if (count <= leaf_size) {
        node.first = first;
        node.count = count;
    } else {
        const Vec3 size = box.size();
        const int axis = size.x >= size.y && size.x >= size.z ? 0 : size.y >= size.z ? 1 : 2;
        const auto begin = order_.begin() + first;
        std::nth_element(begin, begin + count / 2, begin + count, [&](FaceId f, FaceId g) {
            const double u = middles[f.value()][axis], v = middles[g.value()][axis];
            return u != v ? u < v : f < g;
        });
        if (progress && progress->cancelled()) return number;
        node.left = build(first, count / 2, middles, progress);
        node.right = build(first + count / 2, count - count / 2, middles, progress);
    }
    nodes_[number] = node;
    return number;
}

double FastWinding::at(const Vec3& p) const {
    if (nodes_.empty()) return 0;
    double sum = 0;
    CoveredDirections near(p);
    std::uint32_t stack[128];
    int top = 0;
    stack[top++] = 0;
    while (top > 0) {
        const Node& node = nodes_[stack[--top]];
        const Vec3 to = node.center - p;
        const double d2 = dot(to, to);
        if (d2 > far_away * far_away * node.radius * node.radius) {
            sum += dot(node.area, to) / (4 * std::numbers::pi * d2 * std::sqrt(d2));
        } else if (node.count > 0) {
            for (std::uint32_t i = node.first; i < node.first + node.count; ++i)
                near.add(mesh_.corner(order_[i], 0), mesh_.corner(order_[i], 1), mesh_.corner(order_[i], 2));
        } else {
            stack[top++] = node.right;
            stack[top++] = node.left;
        }
    }
    return sum + near.sum();
}

}  // namespace anvil
