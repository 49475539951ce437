// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/delivered_channel.h"

#include "core/base/digest.h"
#include "core/base/number_text.h"
#include "core/exchange/coefficient_writers.h"
#include "core/filter/computed.h"
#include "core/goal/verdict_text.h"
#include "core/study/channel_parts.h"

#include <algorithm>
#include <cctype>
#include <cmath>
#include <fmt/format.h>

namespace syntonon {
namespace {

// Of the numbers as designed, whatever layout they come in.
std::string design_digest(const CoefficientSet& set) {
    std::string text = fmt::format("{};{};", set.sample_rate_hz, set.delay_samples);
    for (const Biquad& s : set.cascade.sections) {
        text += fmt::format("{};{};{};{};{};", s.b0, s.b1, s.b2, s.a1, s.a2);
    }
    for (const double tap : set.taps) {
        text += fmt::format("{};", tap);
    }
    return digest_of(text);
}

// "met, 0.38 dB to spare at 2.96 kHz (corridor 40–250 Hz)"
std::string verdict_line(const Study& study, const Channel& channel, const Filter& filter,
                         Briefs& briefs) {
    const GoalAnswer answer = briefs.goal_of(study, channel);
    const auto measured = briefs.measured_of(study, channel);
    if (channel.goal.empty()) {
        return "no goal";
    }
    if (answer.goal == nullptr || !measured) {
        return "undecided";
    }
    const Verdict verdict = judge(
        *answer.goal, Prediction(filter, *measured != nullptr ? &(*measured)->reader : nullptr,
                                 axis_of(study, channel)));
    const Finding* worst = worst_of(verdict);
    if (worst == nullptr) {
        return "nothing asked";
    }
    return fmt::format("{}, {} ({})", is_met(verdict) ? "met" : "not met", margin_text(*worst),
                       worst->requirement);
}

} // namespace

Expected<DeliveredChannel> delivered_channel(const Study& study, const Delivery& delivery,
                                             const Channel& channel, Briefs& briefs) {
    auto set = coefficients_of(study, channel, briefs);
    if (!set) {
        return tl::unexpected(set.error());
    }
    DeliveredChannel made{channel.id, std::move(*set), std::nullopt, delivery.layout};
    auto& about = made.set.about;
    if (!delivery.processor.empty()) {
        const SeriesParts parts{made.set.cascade, made.set.delay_samples, made.set.taps};
        auto words = words_of(study, delivery, channel.id, parts);
        if (!words) {
            return tl::unexpected(words.error());
        }
        if (words->is_out_of_date) {
            return refuse("channel " + channel.id,
                          "its searched words are of another design or of other words",
                          "search its words again, or take the nearest");
        }
        made.words = std::move(words->chain);
        const Processor& processor = *processor_of(study, delivery.processor);
        made.convention = processor.convention;
        about.emplace_back("processor", processor.name);
        about.emplace_back("structure", std::string(named(structures(), delivery.structure).key));
        about.emplace_back("words", text_of(made.words->section_words.coefficient));
        if (made.words->section_words.shift != 0) {
            about.emplace_back("shift", std::to_string(made.words->section_words.shift));
        }
        about.emplace_back("rounding", delivery.searched ? "searched" : "nearest");
    }
    const Filter designed = briefs.design(study, channel).filter;
    if (saturates(designed)) {
        about.emplace_back("signals", "small ones; what saturates in the chain is linear here");
    }
    const Filter judged = made.words ? filter_of(*made.words) : designed;
    about.emplace_back("verdict", verdict_line(study, channel, judged, briefs));
    about.emplace_back("digest", design_digest(made.set));
    return made;
}

CoefficientSet set_of_words(const DeliveredChannel& channel) {
    CoefficientSet set = channel.set;
    if (channel.words) {
        set.cascade = cascade_of(*channel.words);
        set.taps = channel.words->taps;
    }
    return set;
}

Expected<WordRows> word_rows(const DeliveredChannel& channel) {
    const WordChain& words = *channel.words;
    const Network& plain = network_of(words.structure, false);
    WordRows made;
    if (plain.coefficients.size() != 5) {
        made.titles.assign(plain.coefficients.begin(), plain.coefficients.end());
        for (const StructuredSection& section : words.sections) {
            made.rows.push_back(section.values);
        }
        return made;
    }
    for (const Term term : channel.convention.order) {
        made.titles.emplace_back(key_of(term));
    }
    const bool turns = channel.convention.feedback == FeedbackSign::added;
    for (const StructuredSection& section : words.sections) {
        std::vector<double> row;
        for (const std::string& title : made.titles) {
            const auto at =
                std::ranges::find(plain.coefficients, title) - plain.coefficients.begin();
            const double value = section.values[static_cast<std::size_t>(at)];
            row.push_back(turns && title[0] == 'a' ? -value : value);
            if (!fits(row.back(), coefficient_values(words.section_words))) {
                return refuse(
                    fmt::format("channel {}, section {}", channel.id, made.rows.size() + 1),
                    fmt::format("{} = {:.6g} does not fit {} with the other sign", title,
                                row.back(), text_of(words.section_words.coefficient)),
                    "shift the coefficients by one more");
            }
        }
        made.rows.push_back(std::move(row));
    }
    return made;
}

std::string word_hexadecimal(double value, const Arithmetic& how) {
    return hexadecimal(std::ldexp(value, -how.shift), how.coefficient);
}

std::string source_head(const CoefficientSet& set) {
    std::string text;
    for (const std::string& line : head_lines(set, {})) {
        // How numbers are written says nothing here.
        const bool is_of_tables = line.starts_with("order: ") || line.starts_with("number: ")
                                  || line.starts_with("digits: ") || line.starts_with("feedback: ")
                                  || line.starts_with("normalisation: ") || line.starts_with("  ");
        text += is_of_tables ? "" : "// " + line + "\n";
    }
    return text;
}

std::string source_name(const CoefficientSet& set) {
    const std::string name = slug(set.study, '_') + "_" + slug(set.channel, '_');
    return std::isdigit(static_cast<unsigned char>(name.front())) ? "study_" + name : name;
}

} // namespace syntonon
