#include "core/arrange/arrangement.h"

#include <tbb/parallel_for.h>
#include <tbb/parallel_invoke.h>

#include <atomic>
#include <chrono>
#include <new>
#include <optional>

#include "core/arrange/earlier.h"
#include "core/arrange/operands.h"

namespace anvil {
namespace {

class Stopwatch {
  public:
    double lap() {
        const auto now = std::chrono::steady_clock::now();
        const double s = std::chrono::duration<double>(now - last_).count();
        last_ = now;
        return s;
    }

  private:
    std::chrono::steady_clock::time_point last_ = std::chrono::steady_clock::now();
};

/// Contacts between the operands, pair by pair, and those that each has with itself.
struct AllContacts {
    std::vector<std::shared_ptr<const std::vector<FaceContact>>> between;
    std::vector<ContactList> lists;
};
std::optional<AllContacts> all_contacts(const Soup& soup, ContactCache& cache, Progress& progress) {
    AllContacts all;
    std::vector<std::pair<std::uint32_t, std::uint32_t>> pairs;
    for (std::uint32_t a = 0; a < soup.size(); ++a) {
        all.lists.push_back({a, a, &soup.operand(a).contacts});
        for (std::uint32_t b = a + 1; b < soup.size(); ++b)
            if (soup.operand(a).bounds.meets(soup.operand(b).bounds)) pairs.emplace_back(a, b);
    }
    auto key = [&](std::size_t i) {
        return ContactCache::Pair{soup.operands()[pairs[i].first], soup.operands()[pairs[i].second]};
    };
    all.between.resize(pairs.size());
    for (std::size_t i = 0; i < pairs.size(); ++i)
        if (const auto known = cache.of.find(key(i)); known != cache.of.end()) all.between[i] = known->second;
    std::atomic<bool> complete{true}, no_memory{false};
    tbb::parallel_for(std::size_t{0}, pairs.size(), [&](std::size_t i) {
        if (all.between[i]) return;
        try {
            auto found = find_contacts(soup.operand(pairs[i].first), soup.operand(pairs[i].second), progress);
            if (found)
                all.between[i] = std::make_shared<const std::vector<FaceContact>>(std::move(*found));
            else
                complete = false;
        } catch (const std::bad_alloc&) {  // would stop the loops within the others half-way, too
            no_memory = true;
        }
    });
    if (no_memory) throw std::bad_alloc();
    if (!complete) return std::nullopt;
    cache.of.clear();
    for (std::size_t i = 0; i < pairs.size(); ++i) {
        all.lists.push_back({pairs[i].first, pairs[i].second, all.between[i].get()});
        cache.of.emplace(key(i), all.between[i]);
    }
    return all;
}

}  // namespace

Result<Arrangement> arrange(std::vector<std::shared_ptr<const Operand>> operands, Progress& progress,
                            ContactCache* cache, const Arrangement* before) {
    Stopwatch watch;
    Arrangement::Seconds seconds;
    Soup soup(std::move(operands));
    PointTable points(soup);

    progress.stage("finding crossings", 0.3, 0.5);
    ContactCache unused;
    std::optional<AllContacts> contacts;
    std::optional<EarlierArrangement> earlier;
    tbb::parallel_invoke([&] { contacts = all_contacts(soup, cache ? *cache : unused, progress); },
                         [&] {
                             if (before) earlier.emplace(*before, soup);
                         });
    if (!contacts) return cancelled_error();
    EarlierArrangement* known = earlier ? &*earlier : nullptr;
    auto crossings = find_crossings(soup, contacts->lists, points, known, progress);
    if (!crossings) return crossings.error();
    seconds.cross = watch.lap();

    progress.stage("splitting faces", 0.5, 0.75);
    ActiveFaces active = find_active(soup, *crossings);
    const Clusters clusters = find_clusters(soup, *crossings, active);
    Result<SubFaces> faces = cancelled_error();
    Patches patches;
    tbb::parallel_invoke([&] { faces = subdivide(soup, *crossings, active, clusters, points, known, progress); },
                         [&] { patches = find_patches(soup, active); });
    if (!faces) return faces.error();
    seconds.subdivide = watch.lap();

    progress.stage("telling inside from outside", 0.75, 0.95);
    const std::vector<Wing> wings = find_wings(soup, points, active, *faces, patches, progress);
    if (progress.cancelled()) return cancelled_error();
    SubEdges edges;
    Result<Cells> cells = cancelled_error();
    tbb::parallel_invoke([&] { cells = find_cells(soup, points, active, *faces, patches, wings, progress); },
                         [&] { edges = number_edges(wings, faces->size()); });
    if (!cells) return cells.error();
    seconds.cells = watch.lap();

    return Arrangement{std::move(soup),   std::move(points), std::move(*crossings),
                       std::move(active), std::move(*faces), std::move(patches),
                       std::move(edges),  std::move(*cells), seconds};
}

Result<Arrangement> arrange(std::span<const Mesh* const> meshes, Progress& progress, Taken taken) {
    auto operands =
        all_of(make_operands(meshes.size(), [&](std::size_t o) { return make_operand(*meshes[o], taken, progress); }));
    if (!operands) return operands.error();
    return arrange(std::move(*operands), progress);
}

}  // namespace anvil
