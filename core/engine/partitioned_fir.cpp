// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/engine/partitioned_fir.h"

#include "core/math/fft.h"
#include "core/math/split_spectrum.h"

#include <algorithm>

namespace syntonon {

std::vector<PartitionSegment> segments_of(std::size_t taps, const Partition& partition) {
    std::vector<PartitionSegment> segments;
    const std::size_t late = partition.has_direct_head ? 0 : partition.least;
    std::size_t block = partition.least, first = block - late;
    while (first < taps) {
        const std::size_t larger = block * partition.growth;
        const bool is_last = partition.growth <= 1 || larger > partition.most;
        const std::size_t until = is_last ? taps : std::min(taps, larger - late);
        segments.push_back({block, first, (until - first + block - 1) / block});
        block = larger;
        first = until;
    }
    return segments;
}

class PartitionedFir::Segment {
public:
    Segment(std::span<const double> taps, const PartitionSegment& place)
        : block_(place.block), fft_(2 * place.block), window_(2 * place.block),
          sum_(place.block + 1) {
        fft_.plan_both_ways();
        const double scale = 1.0 / static_cast<double>(2 * block_); // of the transform back
        for (std::size_t i = 0; i < place.count; ++i) {
            const std::size_t from = place.first + i * block_,
                              to = std::min(taps.size(), from + block_);
            const auto signal = fft_.signal();
            std::ranges::fill(signal, 0.0);
            for (std::size_t k = from; k < to; ++k) {
                signal[k - from] = scale * taps[k];
            }
            fft_.to_spectrum();
            take_apart(fft_.spectrum(), taps_.emplace_back(block_ + 1));
            inputs_.emplace_back(block_ + 1);
        }
    }

    void reset() noexcept {
        std::ranges::fill(window_, 0.0);
        for (SplitSpectrum& input : inputs_) {
            std::ranges::fill(input.re, 0.0);
            std::ranges::fill(input.im, 0.0);
        }
        filled_ = 0;
    }

    // Its next `block` outputs are added to the ring once it is full.
    std::size_t held_numbers() const noexcept {
        const auto of = [](const SplitSpectrum& one) { return one.re.size() + one.im.size(); };
        std::size_t numbers = window_.size() + of(sum_);
        for (const auto* all : {&taps_, &inputs_}) {
            for (const SplitSpectrum& one : *all) {
                numbers += of(one);
            }
        }
        return numbers;
    }
    void take(std::span<const double> samples, std::vector<double>& ring,
              std::size_t now) noexcept {
        std::ranges::copy(samples, window_.begin() + static_cast<std::ptrdiff_t>(block_ + filled_));
        filled_ += samples.size();
        if (filled_ < block_) {
            return;
        }
        filled_ = 0;
        transform();
        for (std::size_t n = 0; n < block_; ++n) {
            ring[(now + n) % ring.size()] += fft_.signal()[block_ + n];
        }
        std::copy(window_.begin() + static_cast<std::ptrdiff_t>(block_), window_.end(),
                  window_.begin());
    }

private:
    void transform() noexcept {
        std::ranges::copy(window_, fft_.signal().begin());
        fft_.to_spectrum();
        newest_ = (newest_ + inputs_.size() - 1) % inputs_.size();
        take_apart(fft_.spectrum(), inputs_[newest_]);
        std::ranges::fill(sum_.re, 0.0);
        std::ranges::fill(sum_.im, 0.0);
        for (std::size_t i = 0; i < taps_.size(); ++i) {
            add_product(taps_[i], inputs_[(newest_ + i) % inputs_.size()], sum_);
        }
        for (std::size_t i = 0; i <= block_; ++i) {
            fft_.spectrum()[i] = {sum_.re[i], sum_.im[i]};
        }
        fft_.to_signal();
    }

    std::size_t block_;
    RealFft fft_;
    std::vector<double> window_; // the block before, then this one
    std::vector<SplitSpectrum> taps_, inputs_;
    SplitSpectrum sum_;
    std::size_t newest_ = 0, filled_ = 0;
};

std::size_t PartitionedFir::held_numbers() const noexcept {
    std::size_t numbers =
        arriving_.size() + ahead_.size() + (head_ ? head_->held_numbers() : std::size_t{0});
    for (const auto& segment : segments_) {
        numbers += segment->held_numbers();
    }
    return numbers;
}

PartitionedFir::PartitionedFir(std::span<const double> taps, const Partition& partition)
    : least_(partition.least), arriving_(partition.least) {
    if (partition.has_direct_head) {
        head_.emplace(taps.first(std::min(taps.size(), least_)));
    }
    std::size_t largest = least_;
    for (const PartitionSegment& place : segments_of(taps.size(), partition)) {
        segments_.push_back(std::make_unique<Segment>(taps, place));
        largest = std::max(largest, place.block);
    }
    ahead_.resize(largest);
}

PartitionedFir::~PartitionedFir() = default;

void PartitionedFir::reset() noexcept {
    if (head_) {
        head_->reset();
    }
    for (const auto& segment : segments_) {
        segment->reset();
    }
    std::ranges::fill(ahead_, 0.0);
    arrived_ = now_ = 0;
}

void PartitionedFir::process(std::span<double> block) noexcept {
    while (!block.empty()) {
        const std::size_t count = std::min(block.size(), least_ - arrived_);
        process_some(block.first(count));
        block = block.subspan(count);
    }
}

void PartitionedFir::process_some(std::span<double> block) noexcept {
    std::ranges::copy(block, arriving_.begin() + static_cast<std::ptrdiff_t>(arrived_));
    if (head_) {
        head_->process(block);
    } else {
        std::ranges::fill(block, 0.0);
    }
    for (double& sample : block) {
        sample += ahead_[now_];
        ahead_[now_] = 0;
        now_ = now_ + 1 == ahead_.size() ? 0 : now_ + 1;
    }
    arrived_ += block.size();
    if (arrived_ == least_) {
        end_block();
    }
}

void PartitionedFir::end_block() noexcept {
    arrived_ = 0;
    for (const auto& segment : segments_) {
        segment->take(arriving_, ahead_, now_);
    }
}

} // namespace syntonon
