#pragma once

#include <algorithm>
#include <memory>
#include <span>
#include <vector>

#include "core/arrange/face_source.h"
#include "core/arrange/few.h"
#include "core/arrange/operand.h"
#include "core/base/progress.h"

namespace anvil {

/// Lists of sources, many per list, shared by faces that have the same ones.
class SourceLists {
  public:
    std::uint32_t add(std::span<const FaceSource> list) {
        all_.insert(all_.end(), list.begin(), list.end());
        end_.push_back(static_cast<std::uint32_t>(all_.size()));
        return static_cast<std::uint32_t>(end_.size() - 1);
    }
    /// Makes room for so many lists with so many sources in all.
    void reserve(std::size_t lists, std::size_t sources) {
        end_.reserve(lists);
        all_.reserve(sources);
    }
    /// Adds all lists of another one and returns the number of the first. Of no use where it was stopped.
    std::uint32_t add_all(const SourceLists& other, const Progress& progress) {
        const auto first = static_cast<std::uint32_t>(size());
        const auto base = static_cast<std::uint32_t>(all_.size());
        constexpr std::size_t at_once = 262144;
        for (std::span rest(other.all_); !rest.empty() && !progress.cancelled();) {
            const auto here = rest.first(std::min(at_once, rest.size()));
            all_.insert(all_.end(), here.begin(), here.end());
            rest = rest.subspan(here.size());
        }
        for (const std::uint32_t end : other.end_) end_.push_back(base + end);
        return first;
    }
    std::span<const FaceSource> operator[](std::uint32_t list) const {
        const std::uint32_t start = list == 0 ? 0 : end_[list - 1];
        return std::span(all_).subspan(start, end_[list] - start);
    }
    std::size_t size() const { return end_.size(); }
    /// How many sources all lists have together.
    std::size_t sources() const { return all_.size(); }

  private:
    std::vector<FaceSource> all_;
    std::vector<std::uint32_t> end_;  // per list
};

/// All operands side by side, their points and faces numbered through. Points of different operands stay different
/// numbers here, even where they are the same place: see `PointTable::same_as`.
class Soup {
  public:
    Soup() = default;
    explicit Soup(std::vector<std::shared_ptr<const Operand>> operands) : operands_(std::move(operands)) {
        for (const auto& o : operands_) {
            point_start_.push_back(point_start_.back() + static_cast<std::uint32_t>(o->mesh.points.size()));
            face_start_.push_back(face_start_.back() + static_cast<std::uint32_t>(o->mesh.faces.size()));
        }
    }

    std::uint32_t size() const { return static_cast<std::uint32_t>(operands_.size()); }
    const Operand& operand(std::uint32_t o) const { return *operands_[o]; }
    const std::vector<std::shared_ptr<const Operand>>& operands() const { return operands_; }
    std::size_t point_count() const { return point_start_.back(); }
    std::size_t face_count() const { return face_start_.back(); }

    std::uint32_t operand_of(VertexId v) const { return within(point_start_, v.value()); }
    std::uint32_t operand_of(FaceId f) const { return within(face_start_, f.value()); }
    VertexId global(std::uint32_t operand, VertexId own) const { return VertexId(point_start_[operand] + own.value()); }
    FaceId global(std::uint32_t operand, FaceId own) const { return FaceId(face_start_[operand] + own.value()); }
    Triangle global(std::uint32_t operand, Triangle own) const {
        for (VertexId& v : own) v = global(operand, v);
        return own;
    }
    FaceId own(std::uint32_t operand, FaceId f) const { return FaceId(f.value() - face_start_[operand]); }

    const Vec3& point(VertexId v) const {
        const std::uint32_t o = operand_of(v);
        return operands_[o]->mesh.points[VertexId(v.value() - point_start_[o])];
    }
    Triangle face(FaceId f) const {
        const std::uint32_t o = operand_of(f);
        return global(o, operands_[o]->mesh.faces[own(o, f)]);
    }
    CornerPoints corners(FaceId f) const {
        const std::uint32_t o = operand_of(f);
        const Mesh& mesh = operands_[o]->mesh;
        return corner_points(mesh.points.raw(), mesh.faces[own(o, f)]);
    }
    const Vec3& corner(FaceId f, int k) const { return *corners(f)[static_cast<std::size_t>(k)]; }
    /// The face itself as the only source.
    FaceSource source(FaceId f) const {
        const std::uint32_t o = operand_of(f);
        return {o, operands_[o]->origin[own(o, f).value()], false};
    }
    /// The face and all copies of it.
    Few<FaceSource> sources(FaceId f) const {
        Few<FaceSource> out{source(f)};
        const std::uint32_t o = out[0].operand;
        const auto& copies = operands_[o]->copies;
        const FaceId of = own(o, f);
        for (auto c = std::ranges::lower_bound(copies, of, {}, &Operand::Copy::of); c != copies.end() && c->of == of;
             ++c)
            out.push_back({o, c->origin, c->reversed});
        return out;
    }

  private:
    static std::uint32_t within(const std::vector<std::uint32_t>& start, std::uint32_t i) {
        return static_cast<std::uint32_t>(std::upper_bound(start.begin() + 1, start.end(), i) - start.begin() - 1);
    }
    std::vector<std::shared_ptr<const Operand>> operands_;
    std::vector<std::uint32_t> point_start_{0}, face_start_{0};
};

}  // namespace anvil
