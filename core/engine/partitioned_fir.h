// A long FIR by transforms of its parts, block by block.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/engine/direct_fir.h"

#include <memory>
#include <optional>
#include <vector>

namespace syntonon {

// How the taps are parted. Blocks grow by `growth` from `least` up to `most`; 1: all alike.
struct Partition {
    std::size_t least = 64, most = 4096, growth = 8; // in samples; powers of 2
    // The first `least` taps run directly, so that nothing comes later; else everything is late by
    // `least` samples and costs less.
    bool has_direct_head = true;
};

// Taps from `first` on, `count` blocks of them; what is missing at the end is 0.
struct PartitionSegment {
    std::size_t block, first, count;
};

// Where the blocks of a filter of so many taps lie. A block of B samples is transformed when it is
// full, so that taps from B on (from B - `least` on where everything is late) come in time:
// W. G. Gardner, Efficient convolution without input-output delay, J. Audio Eng. Soc. 43, 1995.
std::vector<PartitionSegment> segments_of(std::size_t taps, const Partition& partition);

// Overlap-save with a line of delayed spectra (T. G. Stockham, High-speed convolution and
// correlation, Proc. AFIPS 28, 1966; F. Wefers, Partitioned convolution algorithms for real-time
// auralization, 2015, section 5.2).
class PartitionedFir final : public Engine {
public:
    explicit PartitionedFir(std::span<const double> taps, const Partition& partition = {});
    ~PartitionedFir() override;
    void process(std::span<double> block) noexcept override;
    void reset() noexcept override;
    std::size_t added_latency() const noexcept override { return head_ ? 0 : least_; }

    // Of 8 bytes each, what the transforms hold for themselves aside.
    std::size_t held_numbers() const noexcept;

private:
    class Segment;

    void process_some(std::span<double> block) noexcept;
    void end_block() noexcept;

    std::size_t least_;
    std::optional<DirectFir> head_;
    std::vector<std::unique_ptr<Segment>> segments_;
    std::vector<double> arriving_; // inputs of the block of `least` that is not full yet
    std::size_t arrived_ = 0;
    std::vector<double> ahead_; // outputs of the segments to come, a ring
    std::size_t now_ = 0;       // of the ring
};

} // namespace syntonon
