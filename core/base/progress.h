#pragma once

#include <atomic>

namespace anvil {

/// Handed to every long operation. The worker reports where it is and polls for a wish to stop; the owner reads
/// and stops from any thread. A stopped operation returns ErrorCode::cancelled and leaves its inputs untouched.
class Progress {
  public:
    /// `name` must be a string literal (or outlive this object). `from` and `to` are fractions of the whole job.
    void stage(const char* name, double from, double to) {
        name_.store(name, std::memory_order_relaxed);
        from_.store(from, std::memory_order_relaxed);
        to_.store(to, std::memory_order_relaxed);
        part_.store(0, std::memory_order_relaxed);
    }
    /// Fraction of the present stage, 0 to 1.
    void part(double fraction) { part_.store(fraction, std::memory_order_relaxed); }
    bool cancelled() const { return cancelled_.load(std::memory_order_relaxed); }
    void cancel() { cancelled_.store(true, std::memory_order_relaxed); }

    const char* stage_name() const { return name_.load(std::memory_order_relaxed); }
    /// Fraction of the whole job, 0 to 1.
    double fraction() const { return from_ + (to_ - from_) * part_; }

  private:
    std::atomic<const char*> name_{""};
    std::atomic<double> from_{0}, to_{1}, part_{0};
    std::atomic<bool> cancelled_{false};
};

}  // namespace anvil
