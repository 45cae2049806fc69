#include "core/job/export_files.h"

#include <filesystem>

#include "core/io/file_batch.h"
#include "core/io/mesh_file.h"

namespace anvil {

std::string file_beside(const std::string& file, const std::string& of) {
    const std::filesystem::path path(file);
    std::string name = of;
    for (char& c : name)
        if (c == '/' || c == '\\' || static_cast<unsigned char>(c) < 32) c = '-';
    return (path.parent_path() / (path.stem().string() + "-" + name + path.extension().string())).string();
}

Result<Exported> export_files(const Job& job, const Evaluation& evaluation, const std::string& file) {
    const auto format = format_of(file);
    if (!format) return format.error();
    const std::vector<NamedMesh> bodies = results_by_name(job, evaluation);
    Exported out;
    out.bodies = bodies.size();
    for (const NamedMesh& body : bodies) {
        if (auto fit = fits(body.mesh, *format); !fit) return Error{fit.error().code, fit.error().text, file};
        out.faces += body.mesh.faces.size();
    }
    FileBatch batch;
    auto add = [&](const std::string& bytes, const std::string& to) {
        out.files.push_back(to);
        return batch.add(bytes, to);
    };
    if (holds_several(*format)) {
        if (auto added = add(format_meshes(bodies, *format), file); !added) return added.error();
    } else {
        const std::size_t pieces = evaluation.combined->pieces();
        for (std::size_t k = 0; k < bodies.size(); ++k) {
            const std::string to = k >= pieces   ? file_beside(file, bodies[k].name)
                                   : pieces == 1 ? file
                                                 : file_beside(file, std::to_string(k + 1));
            if (auto added = add(format_mesh(bodies[k].mesh, *format), to); !added) return added.error();
        }
    }
    if (auto done = batch.commit(); !done) return done.error();
    return out;
}

}  // namespace anvil
