// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/word/processor.h"

#include <algorithm>
#include <bit>
#include <cmath>
#include <fmt/format.h>
#include <set>
#include <utility>

namespace syntonon {
namespace {

constexpr int most_frames = 1 << 16;

Expected<void> check_positive(const char* name, double value, bool may_be_0) {
    if (std::isfinite(value) && (value > 0 || (may_be_0 && value == 0))) {
        return {};
    }
    return refuse(name, fmt::format("{} is not a number above 0", value),
                  may_be_0 ? "0 means that it costs nothing" : "write what the processor has");
}

Expected<void> check_structures(const Processor& p) {
    if (p.structures.empty()) {
        return refuse("structures", "there is none", "name one at least, as direct_form_1");
    }
    std::set<Structure> known;
    for (std::size_t i = 0; i < p.structures.size(); ++i) {
        const auto& [structure, cycles] = p.structures[i];
        const std::string place = fmt::format("structures[{}]", i);
        if (!known.insert(structure).second) {
            return refuse(place + ".structure",
                          fmt::format("{} stands twice", named(structures(), structure).key),
                          "name each structure once");
        }
        if (structure == Structure::error_feedback && !p.section_words.is_fixed()) {
            return refuse(place + ".structure", "error feedback belongs to fixed words",
                          "leave it out");
        }
        if (auto ok = check_positive((place + ".cycles").c_str(), cycles, true); !ok) {
            return ok;
        }
    }
    return {};
}

Expected<void> check_numbers(const Processor& p) {
    const std::pair<const char*, std::optional<double>> positive[] = {
        {"b_below", p.b_below},         {"a_below", p.a_below},
        {"clock_hz", p.clock_hz},       {"coefficient_words", p.coefficient_words},
        {"state_words", p.state_words}, {"usable_share", p.usable_share}};
    for (const auto& [name, value] : positive) {
        if (value) {
            if (auto ok = check_positive(name, *value, false); !ok) {
                return ok;
            }
        }
    }
    const std::pair<const char*, double> costs[] = {{"tap_cycles", p.tap_cycles},
                                                    {"channel_cycles", p.channel_cycles},
                                                    {"block_cycles", p.block_cycles},
                                                    {"converter_samples", p.converter_samples},
                                                    {"most_sections", p.most_sections.value_or(0)},
                                                    {"most_taps", p.most_taps.value_or(0)}};
    for (const auto& [name, value] : costs) {
        if (auto ok = check_positive(name, value, true); !ok) {
            return ok;
        }
    }
    if (p.usable_share > 1) {
        return refuse("usable_share",
                      fmt::format("{} is more than the processor has", p.usable_share),
                      "write a share up to 1, as 0.8");
    }
    return {};
}

// Words are scaled by their shift, and nothing else.
Expected<void> check_convention(const Processor& p) {
    if (auto ok = check(p.convention); !ok) {
        return ok;
    }
    if (p.convention.normalisation != Normalisation::a0_one) {
        return refuse("normalisation", "of a processor's words is a0_one",
                      "give section_words a shift of 1 where all is halved");
    }
    if (p.convention.order.size() != 5) {
        return refuse("order", "names what is no word of a section",
                      "name b0, b1, b2, a1 and a2 only");
    }
    return {};
}

Expected<void> check_blocks(const Processor& p) {
    const bool are_sizes = std::ranges::all_of(
        p.block_frames, [](int frames) { return frames >= 1 && frames <= most_frames; });
    if (p.block_frames.empty() || !are_sizes) {
        return refuse("block_frames", "must name sizes from 1 to 65536", "write 1 for none");
    }
    if (const auto& block = p.block_convolution) {
        if (block->part_taps < 1 || block->part_taps > most_frames
            || !std::has_single_bit(static_cast<unsigned>(block->part_taps))) {
            return refuse("block_convolution.part_taps",
                          fmt::format("{} is not a power of two up to 65536", block->part_taps),
                          "64 and 256 are usual");
        }
        for (const auto& [name, value] :
             {std::pair("block_convolution.transform_cycles", block->transform_cycles),
              std::pair("block_convolution.bin_cycles", block->bin_cycles)}) {
            if (auto ok = check_positive(name, value, true); !ok) {
                return ok;
            }
        }
    }
    for (const double rate : p.sample_rates_hz) {
        if (auto ok = check_positive("sample_rates_hz", rate, false); !ok) {
            return ok;
        }
    }
    return {};
}

Arithmetic all_of(const Word& word) {
    Arithmetic how;
    how.coefficient = how.data = how.state = how.accumulator = word;
    return how;
}

Processor small_amplifier_chip() {
    Processor p;
    p.id = "reed-28";
    p.name = "Reed 28";
    p.note = "A small amplifier chip: fixed point, sections only, few of them.";
    p.sample_rates_hz = {44100, 48000, 96000};
    p.section_words.coefficient = Word::fixed(5, 23);
    p.section_words.data = p.section_words.state = Word::fixed(5, 23);
    p.section_words.accumulator = Word::fixed(10, 46);
    p.section_words.rounding = Rounding::truncate;
    p.tap_words = p.section_words;
    p.structures = {{Structure::direct_form_1, 6}};
    p.convention.feedback = FeedbackSign::added;
    p.convention.order = {Term::b0, Term::b1, Term::b2, Term::a1, Term::a2};
    p.most_sections = 24;
    p.most_taps = 0;
    p.coefficient_words = 160;
    p.state_words = 128;
    p.channel_cycles = 40;
    p.clock_hz = 24.576e6;
    p.converter_samples = 18;
    return p;
}

Processor floating_board() {
    Processor p;
    p.id = "kestrel-board";
    p.name = "Kestrel board";
    p.note = "A board with a floating-point signal processor and an FFT engine.";
    p.section_words = all_of(Word::float32());
    p.tap_words = p.section_words;
    p.structures = {{Structure::transposed_form_2, 5},
                    {Structure::direct_form_1, 6},
                    {Structure::state_variable, 9},
                    {Structure::normalised_lattice, 12}};
    p.tap_cycles = 0.5;
    p.block_convolution = BlockConvolution{64, 1.6, 1.5};
    p.channel_cycles = 20;
    p.block_cycles = 900;
    p.coefficient_words = 65536;
    p.state_words = 98304;
    p.block_frames = {16, 32, 64, 128};
    p.clock_hz = 400e6;
    p.usable_share = 0.85;
    p.converter_samples = 24;
    return p;
}

Processor host_program() {
    Processor p;
    p.id = "host";
    p.name = "Host program";
    p.note = "A program on a computer: doubles inside, one core.";
    p.section_words = p.tap_words = all_of(Word::float64());
    for (const auto& [structure, cycles] :
         {std::pair(Structure::transposed_form_2, 9.0), std::pair(Structure::direct_form_1, 10.0),
          std::pair(Structure::direct_form_2, 9.0), std::pair(Structure::coupled_form, 12.0),
          std::pair(Structure::normalised_lattice, 20.0),
          std::pair(Structure::state_variable, 14.0)}) {
        p.structures.push_back({structure, cycles});
    }
    p.structures.erase(p.structures.begin()); // the one that a new profile has
    p.tap_cycles = 0.4;
    p.block_convolution = BlockConvolution{64, 2.2, 2};
    p.block_cycles = 4000;
    p.block_frames = {32, 64, 128, 256, 512, 1024};
    p.clock_hz = 2.5e9;
    p.usable_share = 0.5;
    return p;
}

Processor logic_core() {
    Processor p;
    p.id = "orrery-core";
    p.name = "Orrery core";
    p.note = "A filter core in programmable logic: 16-bit coefficients, 24-bit signal.";
    p.section_words.coefficient = Word::fixed(1, 15);
    p.section_words.shift = 1;
    p.section_words.data = Word::fixed(1, 23);
    p.section_words.state = Word::fixed(2, 30);
    p.section_words.accumulator = Word::fixed(4, 44);
    p.section_words.rounding = Rounding::convergent;
    p.section_words.accumulator_overflow = Overflow::saturate;
    p.tap_words = p.section_words;
    p.tap_words.shift = 0;
    p.tap_words.state = p.tap_words.data;
    p.tap_words.accumulator = Word::fixed(10, 38);
    p.structures = {{Structure::direct_form_1, 5},
                    {Structure::error_feedback, 6},
                    {Structure::transposed_form_2, 5},
                    {Structure::coupled_form, 8},
                    {Structure::normalised_lattice, 11}};
    p.most_sections = 64;
    p.most_taps = 4096;
    p.coefficient_words = 8192;
    p.state_words = 8192;
    p.clock_hz = 98.304e6;
    return p;
}

} // namespace

bool Processor::runs_in_blocks_of(int frames) const {
    return std::ranges::find(block_frames, frames) != block_frames.end();
}

bool Processor::has(Structure structure) const {
    return std::ranges::find(structures, structure, &StructureCycles::structure)
           != structures.end();
}

WordFormat Processor::format_for(Structure structure) const {
    constexpr double any = std::numeric_limits<double>::infinity();
    return {structure, section_words, tap_words, b_below.value_or(any), a_below.value_or(any)};
}

Expected<void> check(const Processor& p) {
    for (const auto& [name, words] :
         {std::pair("section_words", &p.section_words), std::pair("tap_words", &p.tap_words)}) {
        if (auto ok = check(*words); !ok) {
            return tl::unexpected(within(name, ok.error()));
        }
    }
    if (!(p.section_words.data == p.tap_words.data)) {
        return refuse("tap_words.data",
                      fmt::format("{} is not the sections' {}: the signal goes through both",
                                  text_of(p.tap_words.data), text_of(p.section_words.data)),
                      "give both the same word");
    }
    for (auto checked :
         {check_structures(p), check_convention(p), check_numbers(p), check_blocks(p)}) {
        if (!checked) {
            return checked;
        }
    }
    return {};
}

const std::vector<Processor>& shipped_processors() {
    static const std::vector<Processor> processors = {small_amplifier_chip(), floating_board(),
                                                      host_program(), logic_core()};
    return processors;
}

const Processor* shipped_processor(std::string_view id) {
    const auto& all = shipped_processors();
    const auto found = std::ranges::find(all, id, &Processor::id);
    return found == all.end() ? nullptr : &*found;
}

} // namespace syntonon
