// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/engine/word_engine.h"

#include "core/filter/computed.h"
#include "core/word/section_in_words.h"
#include "core/word/taps_in_words.h"

#include <algorithm>
#include <optional>
#include <vector>

namespace syntonon {

struct WordEngine::Parts {
    Word data;
    std::vector<SectionInWords> sections;
    std::optional<TapsInWords> taps;
    std::vector<double> delayed; // a ring
    std::size_t place = 0;
};

WordEngine::WordEngine(const WordChain& chain) : parts_(std::make_unique<Parts>()) {
    parts_->data = chain.section_words.data;
    for (const StructuredSection& section : chain.sections) {
        parts_->sections.emplace_back(chain.structure, section, chain.section_words);
    }
    if (!chain.taps.empty()) {
        parts_->taps.emplace(chain.taps, chain.tap_words);
    }
    parts_->delayed.resize(chain.delay_samples);
}

WordEngine::~WordEngine() = default;

void WordEngine::process(std::span<double> block) noexcept {
    for (double& x : block) {
        x = rounded(x, parts_->data, Rounding::nearest);
    }
    for (SectionInWords& section : parts_->sections) {
        for (double& x : block) {
            x = section.step(x);
        }
    }
    if (parts_->taps) {
        for (double& x : block) {
            x = parts_->taps->step(x);
        }
    }
    if (parts_->delayed.empty()) {
        return;
    }
    for (double& x : block) {
        std::swap(x, parts_->delayed[parts_->place]);
        parts_->place = (parts_->place + 1) % parts_->delayed.size();
    }
}

void WordEngine::reset() noexcept {
    for (SectionInWords& section : parts_->sections) {
        section.reset();
    }
    if (parts_->taps) {
        parts_->taps->reset();
    }
    std::ranges::fill(parts_->delayed, 0.0);
    parts_->place = 0;
}

std::int64_t WordEngine::overflows() const {
    std::int64_t count = parts_->taps ? parts_->taps->overflows() : 0;
    for (const SectionInWords& section : parts_->sections) {
        count += section.overflows();
    }
    return count;
}

namespace {

class WordComputing final : public WayOfComputing {
public:
    explicit WordComputing(WordChain chain) : chain_(std::move(chain)) {}
    std::unique_ptr<Computation> start() const override {
        return std::make_unique<WordEngine>(chain_);
    }
    bool is_like(const WayOfComputing& other) const override {
        const auto* words = dynamic_cast<const WordComputing*>(&other);
        return words != nullptr && words->chain_ == chain_;
    }
    std::size_t bytes() const override {
        constexpr std::size_t of_section = 7 * sizeof(double);
        return sizeof(WordChain) + chain_.sections.size() * of_section
               + chain_.taps.size() * sizeof(double);
    }

private:
    WordChain chain_;
};

} // namespace

Filter filter_in_words(const WordChain& chain) {
    return Computed{filter_of(chain), std::make_shared<const WordComputing>(chain)};
}

} // namespace syntonon
