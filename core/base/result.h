#pragma once

#include <optional>
#include <string>
#include <utility>
#include <variant>

namespace anvil {

/// What went wrong, in ranges per class of trouble.
enum class ErrorCode {
    // 100: an input cannot be read
    cannot_open = 100,
    not_a_file,
    unknown_format,
    truncated,
    bad_syntax,
    bad_count,
    bad_number,
    bad_index,
    newer_version,
    // 200: the operation cannot be done
    open_operand = 200,
    too_few_operands,
    lost,  ///< what it holds on to is not there any more
    out_of_memory,
    out_of_range,
    unexpected,  ///< a library threw what it should not
    would_break,  ///< it would leave faults in what was sound
    // 300: an output cannot be written
    cannot_write = 300,
    // 400: stopped by the user
    cancelled = 400,
};

/// One error: a code for programs, a sentence for people, and the place (file and line, face, operand).
struct Error {
    ErrorCode code{};
    std::string text;
    std::string place;
    /// Which of the operands that were given it is about, counted from 0; -1 for none.
    int operand = -1;
    /// In a job, the id of the step or mending that it is about; of the base, its part's. Empty for none.
    std::string row{};

    bool is_input() const { return static_cast<int>(code) / 100 == 1; }
    bool is_cancel() const { return code == ErrorCode::cancelled; }
    /// "place: text" on one line.
    std::string sentence() const { return place.empty() ? text : place + ": " + text; }
};

inline Error cancelled_error() { return {ErrorCode::cancelled, "Stopped; nothing was changed.", ""}; }

/// A value or the reason why there is none. Must be looked at.
template <class T>
class [[nodiscard]] Result {
  public:
    Result(T value) : data_(std::move(value)) {}
    Result(Error error) : data_(std::move(error)) {}

    bool ok() const { return data_.index() == 0; }
    explicit operator bool() const { return ok(); }
    T& value() { return std::get<0>(data_); }
    const T& value() const { return std::get<0>(data_); }
    T* operator->() { return &value(); }
    const T* operator->() const { return &value(); }
    T& operator*() { return value(); }
    const T& operator*() const { return value(); }
    const Error& error() const { return std::get<1>(data_); }

  private:
    std::variant<T, Error> data_;
};

/// Success, or the reason why not.
template <>
class [[nodiscard]] Result<void> {
  public:
    Result() = default;
    Result(Error error) : error_(std::move(error)) {}
    bool ok() const { return !error_; }
    explicit operator bool() const { return ok(); }
    const Error& error() const { return *error_; }

  private:
    std::optional<Error> error_;
};

}  // namespace anvil
