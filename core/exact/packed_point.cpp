#include "core/exact/packed_point.h"

#include <algorithm>
#include <atomic>
#include <bit>
#include <cstddef>
#include <cstdint>
#include <cstdlib>
#include <new>
#include <span>

namespace anvil {
namespace {

// Behind the address of its block, a word for each number: how many limbs it has, negative for a negative number, and
// its exponent. Then the limbs.
constexpr std::size_t numbers = 4, head = 1 + numbers;

mp_limb_t word_of(const Dyadic& d) {
    const auto size = static_cast<std::uint32_t>(d.sign() * static_cast<std::int32_t>(d.limbs().size()));
    const auto exponent = static_cast<std::uint32_t>(static_cast<std::int32_t>(d.exponent()));
    return mp_limb_t{size} << 32 | exponent;
}
std::int32_t size_in(mp_limb_t word) { return static_cast<std::int32_t>(static_cast<std::uint32_t>(word >> 32)); }
std::int32_t exponent_in(mp_limb_t word) { return static_cast<std::int32_t>(static_cast<std::uint32_t>(word)); }
std::size_t length_in(mp_limb_t word) { return static_cast<std::size_t>(std::abs(size_in(word))); }

struct Block {
    std::atomic<std::size_t> held{1};  ///< by its points, and by the thread that fills it
};
void let_go(Block* block) noexcept {
    if (block && block->held.fetch_sub(1, std::memory_order_acq_rel) == 1) ::operator delete(block);
}

/// The block that a thread fills.
class Filled {
  public:
    Filled() = default;
    Filled(const Filled&) = delete;
    Filled& operator=(const Filled&) = delete;
    ~Filled() { let_go(block_); }

    mp_limb_t* take(std::size_t length) {
        constexpr std::size_t usual = 8192;
        if (length > room_) {
            const std::size_t room = std::max(length, usual);
            auto* fresh = new (::operator new(sizeof(Block) + room * sizeof(mp_limb_t))) Block;
            let_go(block_);
            block_ = fresh;
            next_ = reinterpret_cast<mp_limb_t*>(fresh + 1);
            room_ = room;
        }
        mp_limb_t* out = next_;
        next_ += length;
        room_ -= length;
        block_->held.fetch_add(1, std::memory_order_relaxed);
        out[0] = std::bit_cast<mp_limb_t>(block_);
        return out;
    }

  private:
    Block* block_ = nullptr;
    mp_limb_t* next_ = nullptr;
    std::size_t room_ = 0;
};
thread_local Filled filled;

}  // namespace

PackedPoint* packed(const HomogeneousPoint& p) {
    const Dyadic* parts[numbers] = {&p.x, &p.y, &p.z, &p.w};
    std::size_t length = head;
    for (const Dyadic* d : parts) length += d->limbs().size();
    mp_limb_t* out = filled.take(length);
    mp_limb_t *word = out + 1, *to = out + head;
    for (const Dyadic* d : parts) {
        *word++ = word_of(*d);
        to = std::ranges::copy(d->limbs(), to).out;
    }
    return out;
}

PackedPoint* copy_of(PackedPoint* p) {
    std::size_t length = head;
    for (std::size_t i = 1; i < head; ++i) length += length_in(p[i]);
    mp_limb_t* out = filled.take(length);
    std::copy(p + 1, p + length, out + 1);
    return out;
}

HomogeneousPoint unpacked(PackedPoint* p) {
    const mp_limb_t* from = p + head;
    auto next = [&](std::size_t i) {
        const std::span limbs(from, length_in(p[i]));
        from += limbs.size();
        return Dyadic(size_in(p[i]) < 0, limbs, exponent_in(p[i]));
    };
    return {next(1), next(2), next(3), next(4)};
}

void release(PackedPoint* p) noexcept {
    if (p) let_go(std::bit_cast<Block*>(p[0]));
}

}  // namespace anvil
