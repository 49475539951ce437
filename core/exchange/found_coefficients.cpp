// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/found_coefficients.h"

#include "core/base/file.h"
#include "core/base/number_text.h"
#include "core/exchange/coefficient_finder.h"
#include "core/exchange/coefficients.h"
#include "core/exchange/feedback_choice.h"
#include "core/exchange/read_transfer.h"
#include "core/exchange/section_table.h"
#include "core/math/polynomial_zeros.h"
#include "core/study/kinds.h"
#include "core/study/opened.h"

#include <algorithm>
#include <fmt/format.h>
#include <memory>

namespace syntonon {
namespace {

constexpr std::size_t most_bytes = 64'000'000;

FoundCoefficients found_in(const ReadCoefficients& read) {
    FoundCoefficients found;
    static_cast<SectionConvention&>(found.convention) = read.layout;
    for (const Biquad& s : read.set.cascade.sections) {
        found.fractions.push_back({{s.b0, s.b1, s.b2}, {1, s.a1, s.a2}});
    }
    found.sign = judged_sign(found.fractions, true);
    found.taps = read.set.taps;
    found.delay_samples = read.set.delay_samples;
    found.sample_rate_hz = read.set.sample_rate_hz;
    found.as = found.fractions.empty() && !found.taps.empty() ? CoefficientsAs::taps
                                                              : CoefficientsAs::sections;
    return found;
}

// Where a formula begins: nowhere, if the first line that is no comment holds none.
std::optional<std::size_t> formula_at(std::string_view text) {
    std::size_t at = 0;
    while (at < text.size()) {
        const auto end = std::min(text.find('\n', at), text.size());
        const std::string_view line = trimmed(text.substr(at, end - at));
        const bool is_comment = line.empty() || line.starts_with('#') || line.starts_with("//");
        if (!is_comment) {
            const bool holds = std::ranges::any_of(
                std::array<std::string_view, 3>{"H(z)", "H(s)", "y[n]"},
                [&](std::string_view part) { return line.find(part) != std::string_view::npos; });
            return holds ? std::optional(at) : std::nullopt;
        }
        at = end + 1;
    }
    return std::nullopt;
}

std::size_t line_at(std::string_view text, std::size_t byte) {
    return 1
           + static_cast<std::size_t>(
               std::ranges::count(text.substr(0, std::min(byte, text.size())), '\n'));
}

Expected<FoundCoefficients> found_in_formula(std::string_view text, std::size_t begin) {
    const auto read = read_transfer(text.substr(begin));
    if (!read) {
        const Misread& misread = read.error();
        return refuse(
            fmt::format("line {}", line_at(text, begin + misread.at)),
            fmt::format("“{}” {}", text.substr(begin + misread.at, misread.length), misread.reason),
            misread.way_out);
    }
    if (read->roots.domain == Domain::analog) {
        return refuse("", "the filter is one of s, of continuous time",
                      "paste it into the text page of an analog channel");
    }
    FoundCoefficients found;
    found.as = CoefficientsAs::fraction;
    found.sign.is_said = true;
    if (!read->coefficients.numerator.empty()) {
        found.fractions.push_back(read->coefficients);
        found.sign = judged_sign(found.fractions, true);
        found.notes.emplace_back("Read as a difference equation or a fraction, as it is written.");
        return found;
    }
    const auto roots = all_roots(*read);
    if (!roots) {
        return tl::unexpected(roots.error());
    }
    found.roots = *roots;
    found.notes.emplace_back("Read as factors: the roots are those of the text.");
    return found;
}

Stage stage_of(StageSpec spec, const std::string& name) {
    Stage stage;
    stage.name = name;
    stage.spec = std::move(spec);
    return stage;
}

} // namespace

std::string_view key_of(CoefficientsAs as) {
    switch (as) {
    case CoefficientsAs::sections:
        return "sections";
    case CoefficientsAs::fraction:
        return "fraction";
    case CoefficientsAs::taps:
        return "taps";
    }
    return "";
}

std::optional<CoefficientsAs> coefficients_as_from_key(std::string_view key) {
    const auto found =
        std::ranges::find(all_coefficients_as, key, [](CoefficientsAs as) { return key_of(as); });
    return found == all_coefficients_as.end() ? std::nullopt : std::optional(*found);
}

CoefficientReading reading_for(const Processor& processor) {
    CoefficientReading reading;
    reading.order = processor.convention.order;
    reading.feedback = processor.convention.feedback;
    reading.normalisation = processor.convention.normalisation;
    reading.words = held_word(processor.section_words);
    reading.tap_words = held_word(processor.tap_words);
    return reading;
}

Expected<FoundCoefficients> found_coefficients(std::string_view text,
                                               const CoefficientReading& reading) {
    if (trimmed(text.substr(0, 4096)).starts_with('{')) {
        if (const auto own = read_coefficients(text)) {
            return found_in(*own);
        }
    }
    if (const auto begin = formula_at(text)) {
        return found_in_formula(text, *begin);
    }
    return written_numbers(text).and_then(
        [&](const WrittenNumbers& numbers) { return find_coefficients(numbers, reading); });
}

Expected<FoundCoefficients> found_coefficients_in_file(const std::filesystem::path& path,
                                                       const CoefficientReading& reading) {
    const auto bytes = read_file(path, most_bytes);
    if (!bytes) {
        return tl::unexpected(bytes.error());
    }
    auto found = found_coefficients(*bytes, reading);
    return found ? found : tl::unexpected(in_file(path.string(), found.error()));
}

void turn_feedback(FoundCoefficients& found) {
    std::ranges::transform(found.fractions, found.fractions.begin(), with_other_sign);
    std::swap(found.sign.radius, found.sign.other_radius);
    found.convention.feedback = found.convention.feedback == FeedbackSign::added
                                    ? FeedbackSign::subtracted
                                    : FeedbackSign::added;
}

Expected<Filter> filter_of(const FoundCoefficients& found, const Axis& axis) {
    const Brief brief = brief_at(axis);
    std::vector<Filter> parts;
    std::optional<Problem> problem;
    visit_stages(chain_of(found, ""), [&](const Stage& stage, const Slot&, int) {
        if (problem || !chains_in(stage).empty()) {
            return;
        }
        const auto made = design(stage.spec, brief, Watch());
        made ? parts.push_back(made->filter) : void(problem = made.error());
    });
    if (problem) {
        return tl::unexpected(*problem);
    }
    return series(parts);
}

Chain chain_of(const FoundCoefficients& found, const std::string& name) {
    Chain chain;
    if (found.roots) {
        if (found.roots->delay_samples > 0) {
            chain.emplace_back(
                stage_of(DelaySpec{DelayUnit::samples, found.roots->delay_samples}, ""));
        }
        chain.emplace_back(
            stage_of(RootsSpec{found.roots->zeros, found.roots->poles, found.roots->gain}, name));
    }
    if (!found.fractions.empty()) {
        chain.emplace_back(stage_of(in_one_stage(found.fractions), name));
    }
    if (!found.taps.empty()) {
        const auto taps = std::make_shared<const std::vector<double>>(found.taps);
        chain.emplace_back(stage_of(TapsSpec{taps}, name));
    }
    if (found.delay_samples > 0) {
        chain.emplace_back(
            stage_of(DelaySpec{DelayUnit::samples, static_cast<double>(found.delay_samples)}, ""));
    }
    return chain;
}

} // namespace syntonon
