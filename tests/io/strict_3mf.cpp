// In a file of its own: the library's headers define much.
#include "tests/io/strict_3mf.h"

#include <Model/COM/NMR_DLLInterfaces.h>
#ifdef __SANITIZE_ADDRESS__
#include <sanitizer/lsan_interface.h>
#endif

namespace anvil::test {
namespace {

/// An object of the library.
struct Held {
    NMR::PLib3MFBase* at = nullptr;
    Held() = default;
    Held(const Held&) = delete;
    ~Held() {
        if (at) NMR::lib3mf_release(at);
    }
};

std::string last_error(NMR::PLib3MFBase* of) {
    DWORD code = 0;
    LPCSTR why = nullptr;
    NMR::lib3mf_getlasterror(of, &code, &why);
    return std::to_string(code) + ": " + (why ? why : "no reason given");
}

Mesh mesh_of(NMR::PLib3MFBase* object) {
    Mesh out;
    DWORD points = 0, faces = 0;
    NMR::lib3mf_meshobject_getvertexcount(object, &points);
    NMR::lib3mf_meshobject_gettrianglecount(object, &faces);
    for (DWORD k = 0; k < points; ++k) {
        NMR::MODELMESHVERTEX v{};
        NMR::lib3mf_meshobject_getvertex(object, k, &v);
        out.points.push_back({v.m_fPosition[0], v.m_fPosition[1], v.m_fPosition[2]});
    }
    for (DWORD k = 0; k < faces; ++k) {
        NMR::MODELMESHTRIANGLE t{};
        NMR::lib3mf_meshobject_gettriangle(object, k, &t);
        out.faces.push_back({VertexId(t.m_nIndices[0]), VertexId(t.m_nIndices[1]), VertexId(t.m_nIndices[2])});
    }
    return out;
}

}  // namespace

StrictlyRead read_strictly(const std::filesystem::path& file) {
#ifdef __SANITIZE_ADDRESS__
    const __lsan::ScopedDisabler not_ours;  // the library loses a little with each file
#endif
    StrictlyRead out;
    Held model, reader, objects;
    if (NMR::lib3mf_createmodel(&model.at) != 0 || NMR::lib3mf_model_queryreader(model.at, "3mf", &reader.at) != 0) {
        out.refused = "the library gives no reader";
        return out;
    }
    NMR::lib3mf_reader_setstrictmodeactive(reader.at, true);
    if (NMR::lib3mf_reader_readfromfileutf8(reader.at, file.c_str()) != 0) {
        out.refused = last_error(reader.at);
        return out;
    }
    DWORD warnings = 0;
    NMR::lib3mf_reader_getwarningcount(reader.at, &warnings);
    out.warnings = warnings;
    NMR::lib3mf_model_getmeshobjects(model.at, &objects.at);
    for (BOOL more = false; NMR::lib3mf_resourceiterator_movenext(objects.at, &more) == 0 && more;) {
        Held object;
        NMR::lib3mf_resourceiterator_getcurrent(objects.at, &object.at);
        out.meshes.push_back(mesh_of(object.at));
        BOOL sound = false;
        NMR::lib3mf_meshobject_ismanifoldandoriented(object.at, &sound);
        out.manifold.push_back(sound);
    }
    return out;
}

}  // namespace anvil::test
