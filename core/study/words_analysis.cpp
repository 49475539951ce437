// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/words_analysis.h"

#include "core/study/words.h"

#include <cstddef>
#include <utility>

namespace syntonon {
namespace {

Expected<ChannelWords> words_in_view(const WordsQuestion& question) {
    const std::string place = "channel " + question.channel.id;
    if (question.channel.domain == Domain::analog) {
        return refuse(place, "is analog, and a processor works in samples",
                      "map it into a sampled channel");
    }
    const auto parts = series_parts_of(question.chain.form());
    if (!parts) {
        return tl::unexpected(within(place, parts.error()));
    }
    return words_of(question.study, question.delivery, question.channel.id, *parts);
}

// A filter each section, one for the taps, one for the delay.
std::vector<Filter> parts_of(const WordChain& words) {
    std::vector<Filter> parts;
    for (const Biquad& section : cascade_of(words).sections) {
        parts.emplace_back(Cascade{{section}});
    }
    WordChain rest = words;
    rest.sections.clear();
    if (!rest.taps.empty() || rest.delay_samples > 0) {
        parts.push_back(filter_of(rest));
    }
    return parts;
}

// That of the same place before, where that is the same.
WordsAnalysis::Part answered(Filter filter, const WordsAnalysis* last, std::size_t place,
                             const FrequencyGrid& grid) {
    const bool same =
        last != nullptr && place < last->parts.size() && last->parts[place].filter == filter;
    auto response = same ? last->parts[place].response
                         : std::make_shared<const Response>(filter.response(grid));
    return {std::move(filter), std::move(response)};
}

} // namespace

std::shared_ptr<const WordsAnalysis> words_analysis(const WordsQuestion& question,
                                                    const WordsAnalysis* last) {
    auto made = std::make_shared<WordsAnalysis>();
    made->delivery = question.delivery.name;
    const auto words = words_in_view(question);
    if (!words) {
        made->problem = words.error();
        return made;
    }
    made->chain = filter_of(words->chain);
    made->is_out_of_date = words->is_out_of_date;
    Response sum(question.grid.size());
    for (Filter& part : parts_of(words->chain)) {
        made->parts.push_back(answered(std::move(part), last, made->parts.size(), question.grid));
        sum.follow_with(*made->parts.back().response);
    }
    made->total = trace_of(made->chain, sum, question.grid);
    made->predicted = prediction_of(made->total, question.measured);
    return made;
}

} // namespace syntonon
