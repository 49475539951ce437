// A chain at work in a processor's words, to the last bit.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/engine/engine.h"
#include "core/word/word_chain.h"

#include <cstdint>
#include <memory>

namespace syntonon {

// What comes in is rounded to the data's word, nearest and held at its ends, as a converter does;
// then sections, taps and delay run as the processor runs them. Its FIR is the sum of products; one
// by transforms rounds elsewhere, and differs from it in the last bits.
class WordEngine : public Engine {
public:
    explicit WordEngine(const WordChain& chain);
    ~WordEngine() override;
    void process(std::span<double> block) noexcept override;
    void reset() noexcept override;
    // Sums and words that ran over since it was made.
    std::int64_t overflows() const;

private:
    struct Parts;
    std::unique_ptr<Parts> parts_;
};

// The chain as a filter that is run so, and is in all else what its numbers make.
Filter filter_in_words(const WordChain& chain);

} // namespace syntonon
