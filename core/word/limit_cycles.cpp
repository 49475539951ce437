// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/word/limit_cycles.h"

#include "core/word/section_in_words.h"

#include <algorithm>
#include <cmath>
#include <random>

namespace syntonon {
namespace {

constexpr int starts = 48;
constexpr std::int64_t most_samples = 1 << 17;
constexpr std::int64_t between_looks = 4096;

// What determines all that comes: the states, and the error that is fed back.
struct Memory {
    std::vector<std::int64_t> states;
    std::int64_t error = 0;

    void take(FixedSection& section) {
        states.assign(section.states().begin(), section.states().end());
        error = section.error();
    }
    bool is_that_of(FixedSection& section) const {
        return error == section.error() && std::ranges::equal(states, section.states());
    }
};

// The error may stay: nothing comes out any more.
bool is_at_rest(FixedSection& section) {
    return std::ranges::all_of(section.states(), [](auto value) { return value == 0; });
}

// Every third time states up to full scale, else of random size from a few steps on.
void disturb(FixedSection& section, const Word& word, int start, std::mt19937& random) {
    const int drawn_bits = 2 + static_cast<int>(random() % static_cast<unsigned>(word.bits() - 1));
    const int bits = start % 3 == 0 ? word.bits() : drawn_bits;
    for (std::int64_t& state : section.states()) {
        const auto drawn = (static_cast<std::uint64_t>(random()) << 32) | random();
        state = static_cast<std::int64_t>(drawn % (std::uint64_t{1} << bits))
                - (std::int64_t{1} << (bits - 1));
    }
    section.error() = 0;
}

struct Ending {
    bool is_decided = false;
    std::optional<LimitCycle> cycle;
};

// One period from here.
LimitCycle measured_cycle(FixedSection& section, std::int64_t period) {
    LimitCycle cycle{0, period};
    const std::int64_t before = section.overflows();
    for (std::int64_t n = 0; n < period; ++n) {
        cycle.peak = std::max(cycle.peak, std::abs(section.step(0)));
    }
    cycle.by_overflow = section.overflows() > before;
    return cycle;
}

// By R. P. Brent's way (An improved Monte Carlo factorization algorithm, BIT 20, 1980): a memory is
// kept and compared with all that come, a later one taken after twice as long each time.
Expected<Ending> followed(FixedSection& section, const Watch& watch) {
    Memory kept;
    kept.take(section);
    std::int64_t length = 0, power = 1;
    for (std::int64_t n = 0; n < most_samples; ++n) {
        if (n % between_looks == 0 && watch.is_stopped()) {
            return refuse("", "the search for limit cycles was stopped", "search again");
        }
        section.step(0);
        ++length;
        if (is_at_rest(section)) {
            return Ending{true, std::nullopt};
        }
        if (kept.is_that_of(section)) {
            return Ending{true, measured_cycle(section, length)};
        }
        if (length == power) {
            kept.take(section);
            power *= 2;
            length = 0;
        }
    }
    return Ending{};
}

} // namespace

Expected<LimitCycleSearch> find_limit_cycles(const WordChain& chain, const Watch& watch) {
    LimitCycleSearch search;
    search.of_sections.resize(chain.sections.size());
    if (!chain.section_words.is_fixed()) {
        return search;
    }
    std::mt19937 random(1);
    for (std::size_t i = 0; i < chain.sections.size(); ++i) {
        SectionInWords section(chain.structure, chain.sections[i], chain.section_words);
        std::optional<LimitCycle>& loudest = search.of_sections[i];
        for (int start = 0; start < starts; ++start) {
            section.reset();
            disturb(*section.fixed(), chain.section_words.state, start, random);
            const auto ending = followed(*section.fixed(), watch);
            if (!ending) {
                return tl::unexpected(ending.error());
            }
            ++search.tried;
            search.undecided += ending->is_decided ? 0 : 1;
            if (ending->cycle && (!loudest || ending->cycle->peak > loudest->peak)) {
                loudest = ending->cycle;
            }
        }
        watch.report(static_cast<double>(i + 1) / static_cast<double>(chain.sections.size()));
    }
    return search;
}

} // namespace syntonon
