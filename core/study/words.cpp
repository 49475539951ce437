// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/words.h"

#include "core/base/digest.h"
#include "core/study/channel_parts.h"
#include "core/word/goal_aim.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace syntonon {
namespace {

void add_number(std::string& text, double value) {
    text += fmt::format("{};", value);
}

void add_words(std::string& text, const Arithmetic& how) {
    text += text_of(coefficient_values(how)) + " " + text_of(how.data) + ";";
}

// Of the design, and of the words that it is to become.
std::string words_digest(const SeriesParts& parts, const WordFormat& format) {
    std::string text(named(structures(), format.structure).key);
    add_words(text, format.sections);
    add_words(text, format.taps);
    add_number(text, format.b_below);
    add_number(text, format.a_below);
    for (const Biquad& s : parts.cascade.sections) {
        for (const double value : {s.b0, s.b1, s.b2, s.a1, s.a2}) {
            add_number(text, value);
        }
    }
    for (const double tap : parts.taps) {
        add_number(text, tap);
    }
    return digest_of(text);
}

const FoundWords* found_for(const Delivery& delivery, std::string_view channel) {
    const auto found = std::ranges::find(delivery.found, channel, &FoundWords::channel);
    return found == delivery.found.end() ? nullptr : &*found;
}

// A file may hold what are no words of this processor.
bool are_words(const FoundWords& found, const WordFormat& format) {
    for (const StructuredSection& section : found.sections) {
        const Network& network = network_of(format.structure, section.real_poles);
        if (section.values.size() != network.coefficients.size()) {
            return false;
        }
        for (std::size_t i = 0; i < section.values.size(); ++i) {
            const double value = section.values[i];
            if (!holds(format, network, i, value)
                || rounded(value, coefficient_values(format.sections), Rounding::nearest)
                       != value) {
                return false;
            }
        }
    }
    return std::ranges::all_of(found.taps, [&](double tap) {
        return fits(tap, coefficient_values(format.taps))
               && rounded(tap, coefficient_values(format.taps), Rounding::nearest) == tap;
    });
}

} // namespace

Expected<WordFormat> word_format(const Study& study, const Delivery& delivery) {
    const std::string place = fmt::format("delivery {}", delivery.id);
    if (delivery.processor.empty()) {
        return refuse(place, "is for no processor, and has no words", "choose a processor for it");
    }
    const Processor* processor = processor_of(study, delivery.processor);
    if (processor == nullptr) {
        return refuse(place, fmt::format("there is no processor “{}”", delivery.processor),
                      "choose one of the study's or of the program's");
    }
    if (!processor->has(delivery.structure)) {
        return refuse(
            place,
            fmt::format("{} has no {}", processor->name,
                        named(structures(), delivery.structure).title),
            fmt::format("choose {}",
                        named(structures(), processor->structures.front().structure).title));
    }
    const auto& rates = processor->sample_rates_hz;
    if (!rates.empty() && std::ranges::find(rates, study.sample_rate_hz) == rates.end()) {
        return refuse(
            place, fmt::format("{} does not run at {} Hz", processor->name, study.sample_rate_hz),
            fmt::format("set the study to {} Hz, or choose another processor", rates.front()));
    }
    if (delivery.block_frames != 0 && !processor->runs_in_blocks_of(delivery.block_frames)) {
        return refuse(place,
                      fmt::format("{} is not run in blocks of {} frames", processor->name,
                                  delivery.block_frames),
                      fmt::format("choose {} frames, or leave block_frames out",
                                  processor->block_frames.front()));
    }
    return processor->format_for(delivery.structure);
}

Expected<ChannelWords> words_of(const Study& study, const Delivery& delivery,
                                const std::string& channel, const SeriesParts& parts) {
    const auto format = word_format(study, delivery);
    if (!format) {
        return tl::unexpected(format.error());
    }
    const FoundWords* found = delivery.searched ? found_for(delivery, channel) : nullptr;
    if (found != nullptr && found->fitted_to == words_digest(parts, *format)
        && are_words(*found, *format)) {
        return ChannelWords{{format->structure, format->sections, format->taps, found->sections,
                             found->taps, parts.delay_samples}};
    }
    auto nearest = nearest_words(parts, *format);
    if (!nearest) {
        return tl::unexpected(of_channel(channel, nearest.error()));
    }
    return ChannelWords{std::move(*nearest), delivery.searched && format->sections.is_fixed()};
}

Expected<ChannelWords> words_of(const Study& study, const Delivery& delivery,
                                const Channel& channel, Briefs& briefs) {
    const auto parts = channel_parts(study, channel, briefs);
    if (!parts) {
        return tl::unexpected(parts.error());
    }
    return words_of(study, delivery, channel.id, *parts);
}

Expected<WordSearch> word_search(const Study& study, const Delivery& delivery,
                                 const Channel& channel, Briefs& briefs) {
    const auto format = word_format(study, delivery);
    if (!format) {
        return tl::unexpected(format.error());
    }
    auto parts = channel_parts(study, channel, briefs);
    if (!parts) {
        return tl::unexpected(parts.error());
    }
    const DesignedChain chain = briefs.design(study, channel);
    const auto measured = briefs.measured_of(study, channel);
    const GoalAnswer goal = briefs.goal_of(study, channel);
    WordSearch search{delivery.id, channel.id, std::move(*parts), *format, {}};
    if (goal.goal != nullptr && measured) {
        const Prediction prediction(chain.filter,
                                    *measured != nullptr ? &(*measured)->reader : nullptr,
                                    axis_of(study, channel));
        search.aim = goal_aim(*goal.goal, prediction);
    } else {
        search.aim = plain_aim(chain.filter, study.sample_rate_hz);
    }
    return search;
}

Expected<FoundWords> run(const WordSearch& search, const Watch& watch) {
    auto found = search_words(search.parts, search.format, search.aim, watch);
    if (!found) {
        return tl::unexpected(of_channel(search.channel, found.error()));
    }
    return FoundWords{search.channel, words_digest(search.parts, search.format),
                      std::move(found->chain.sections), std::move(found->chain.taps),
                      found->worst_db};
}

void put_found(Delivery& delivery, FoundWords found) {
    const auto there = std::ranges::find(delivery.found, found.channel, &FoundWords::channel);
    if (there == delivery.found.end()) {
        delivery.found.push_back(std::move(found));
    } else {
        found.unknown = there->unknown;
        *there = std::move(found);
    }
}

} // namespace syntonon
