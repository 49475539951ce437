// Words of 20 chains of the demo: how far the search brings them, what it costs, how good the
// figure of noise is, and how long the run in words takes. SPDX-License-Identifier:
// GPL-3.0-or-later
#include "bench/spent.h"
#include "core/design/parametric.h"
#include "core/engine/word_engine.h"
#include "core/filter/in_sections.h"
#include "core/study/channel_parts.h"
#include "core/study/kinds.h"
#include "core/study/study.h"
#include "core/word/output_noise.h"
#include "core/word/search_words.h"
#include "demo/brightwater.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <random>
#include <vector>

namespace {

using namespace syntonon;

constexpr double rate_hz = 48000;

double median_of(std::vector<double> values) {
    std::ranges::sort(values);
    return values.empty() ? 0 : values[values.size() / 2];
}

// Zenith, Sunrise and Docent, their frequencies moved up by these factors as far as they go.
std::vector<SeriesParts> demo_chains() {
    std::vector<SeriesParts> chains;
    for (const double factor : {1.0, 1.6, 2.5, 4.0, 6.3, 8.0, 10.0}) {
        for (const char* id : {"zenith", "sunrise", "docent"}) {
            Study study = brightwater_study();
            for (auto& channel : study.channels) {
                for (auto& stage : channel.edit().stages) {
                    auto& spec = stage.edit().spec.edit();
                    if (auto* parametric = std::get_if<ParametricSpec>(&spec)) {
                        parametric->frequency_hz =
                            std::min(parametric->frequency_hz * factor, 16000.0);
                    }
                }
            }
            Briefs briefs;
            const auto parts = channel_parts(study, *channel_of(study, id), briefs);
            if (parts && chains.size() < 20) {
                chains.push_back(*parts);
            }
        }
    }
    return chains;
}

WordFormat format_of(Structure structure, const Word& coefficient, int shift) {
    Arithmetic how;
    how.coefficient = coefficient;
    how.shift = shift;
    how.data = Word::fixed(1, 23);
    how.state = Word::fixed(4, 28);
    how.accumulator = Word::fixed(10, 28 + coefficient.fraction_bits - shift);
    return {structure, how, how};
}

void measure_search(const char* title, const WordFormat& format) {
    std::vector<double> ratios, seconds, nearest, searched;
    int did_not_fit = 0, was_unstable = 0;
    for (const SeriesParts& parts : demo_chains()) {
        const WordAim aim = plain_aim(Filter(parts.cascade), rate_hz);
        Expected<SearchedWords> found = tl::unexpected(Problem{});
        seconds.push_back(spent_on([&] { found = search_words(parts, format, aim); }).cpu_s);
        const auto plain = nearest_words(parts, format);
        did_not_fit += plain ? 0 : 1;
        was_unstable += plain && !filter_of(*plain).is_stable() ? 1 : 0;
        if (found && plain && filter_of(*plain).is_stable() && *found->nearest_worst_db > 0) {
            ratios.push_back(found->worst_db / *found->nearest_worst_db);
            nearest.push_back(*found->nearest_worst_db);
            searched.push_back(found->worst_db);
        }
    }
    fmt::print(
        "{}: {} chains; nearest {:.4f} dB off (median), searched {:.4f}: {:.3f} of it, at worst "
        "{:.3f}; {:.2f} s of CPU (median), {:.2f} at worst; nearest words beyond their word: "
        "{}, unstable: {}\n",
        title, seconds.size(), median_of(nearest), median_of(searched), median_of(ratios),
        ratios.empty() ? 0 : *std::ranges::max_element(ratios), median_of(seconds),
        *std::ranges::max_element(seconds), did_not_fit, was_unstable);
}

// The figure against a run of 20 s less one in doubles.
void measure_noise() {
    std::vector<double> errors;
    for (const auto& each : structures()) {
        for (const SeriesParts& parts : demo_chains()) {
            const auto chain = nearest_words(parts, format_of(each.value, Word::fixed(3, 21), 0));
            const auto noise =
                chain ? output_noise(*chain, rate_hz) : tl::unexpected(chain.error());
            if (!noise || !std::isfinite(noise->level_dbfs)) {
                continue;
            }
            std::mt19937 random(1);
            std::vector<double> signal(960000);
            for (double& x : signal) {
                x = rounded((static_cast<double>(random()) / 2147483648.0 - 1) / 64,
                            chain->section_words.data, Rounding::nearest);
            }
            std::vector<double> exact = signal;
            filter_of(*chain).run(exact);
            WordEngine engine(*chain);
            engine.process(signal);
            if (engine.overflows() > 0) {
                continue; // of states without room the noise is another one
            }
            double sum = 0, squares = 0;
            const std::size_t from = signal.size() / 4;
            for (std::size_t n = from; n < signal.size(); ++n) {
                const double error = signal[n] - exact[n];
                sum += error;
                squares += error * error;
            }
            const auto count = static_cast<double>(signal.size() - from);
            const double power = squares / count - sum / count * (sum / count);
            errors.push_back(std::abs(noise->level_dbfs - 10 * std::log10(2 * power)));
        }
    }
    fmt::print(
        "noise figure against a run in words, {} chains in all structures: {:.2f} dB off (median), "
        "{:.2f} at worst\n",
        errors.size(), median_of(errors), *std::ranges::max_element(errors));
}

void measure_run() {
    const SeriesParts parts = demo_chains().front();
    for (const auto& each : structures()) {
        const auto chain = nearest_words(parts, format_of(each.value, Word::fixed(4, 20), 0));
        if (!chain) {
            continue;
        }
        std::vector<double> signal(480000, 0.01);
        WordEngine engine(*chain);
        const double spent = spent_on([&] { engine.process(signal); }).cpu_s;
        fmt::print("run in words, {}: {:.0f} ns a section and sample, {:.0f} times real time\n",
                   each.title,
                   1e9 * spent / static_cast<double>(signal.size() * chain->sections.size()),
                   10 / spent);
    }
}

} // namespace

int main() {
    measure_search("direct form I, Q2.14",
                   format_of(Structure::direct_form_1, Word::fixed(2, 14), 0));
    measure_search("normalised lattice, Q1.15, shifted by 1",
                   format_of(Structure::normalised_lattice, Word::fixed(1, 15), 1));
    measure_noise();
    measure_run();
}
