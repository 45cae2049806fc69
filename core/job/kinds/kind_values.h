#pragma once

#include "core/job/kinds/kind.h"

namespace anvil {

/// Reads the values of a kind by its fields; what is not there is the usual.
class KindValues {
  public:
    KindValues(const Kind& kind, const Values& values) : kind_(kind), values_(values) {}
    double operator[](const char* field) const { return value_of<double>(kind_, values_, field); }
    int count(const char* field) const { return static_cast<int>(value_of<std::int64_t>(kind_, values_, field)); }
    bool is(const char* field) const { return value_of<bool>(kind_, values_, field); }
    const Vec3& point(const char* field) const { return value_of<Vec3>(kind_, values_, field); }
    const std::vector<Vec3>& points(const char* field) const {
        return value_of<std::vector<Vec3>>(kind_, values_, field);
    }
    const std::string& word(const char* field) const { return value_of<std::string>(kind_, values_, field); }

  private:
    const Kind& kind_;
    const Values& values_;
};

}  // namespace anvil
