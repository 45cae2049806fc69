#pragma once

#include "core/job/kinds/kind.h"

namespace anvil {

/// One operand is taken no more often than this.
inline constexpr double most_copies = 100'000;

inline Result<void> check_copies(double count) {
    if (count <= most_copies) return {};
    return Error{ErrorCode::out_of_range, "that would be more than 100000 copies: make fewer", ""};
}

inline Field number_of_copies(const std::string& name, int usual, const std::string& label) {
    return {.name = name,
            .type = Field::Type::count,
            .usual = std::int64_t{usual},
            .label = label,
            .says = "how many, with the first one",
            .least = 1,
            .most = most_copies};
}

/// Reads the values of one way to copy.
class CopiesValues {
  public:
    CopiesValues(std::string_view kind, const Values& values) : kind_(*find_copies(kind)), values_(values) {}
    double operator[](const char* field) const { return value_of<double>(kind_, values_, field); }
    int count(const char* field) const { return static_cast<int>(value_of<std::int64_t>(kind_, values_, field)); }
    bool is(const char* field) const { return value_of<bool>(kind_, values_, field); }
    const std::string& word(const char* field) const { return value_of<std::string>(kind_, values_, field); }

  private:
    const Kind& kind_;
    const Values& values_;
};

}  // namespace anvil
