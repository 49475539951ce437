// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/coefficients.h"

#include "core/exchange/coefficient_writers.h"
#include "core/filter/in_sections.h"
#include "core/study/designed_chain.h"

#include <fmt/format.h>

namespace syntonon {

Expected<CoefficientSet> coefficients_of(const Study& study, const Channel& channel,
                                         Briefs& briefs) {
    if (channel.domain == Domain::analog) {
        return refuse("channel " + channel.id, "is analog, and a processor works in samples",
                      "map it into a sampled channel, or hand out its sections in s");
    }
    CoefficientSet set{study.name, channel.name, study.sample_rate_hz, {}, 0, {}};
    std::vector<Filter> parts;
    const DesignedChain chain = briefs.design(study, channel);
    const std::string place = "channel " + channel.id;
    if (!chain.problems.empty()) {
        return refuse(fmt::format("{}, {}", place, chain.problems.front().place),
                      chain.problems.front().reason, chain.problems.front().way_out);
    }
    if (!chain.waits_for.empty()) {
        return tl::unexpected(within(place, being_designed(chain.waits_for)));
    }
    for (std::size_t i = 0; i < channel.stages.size(); ++i) {
        const Stage& stage = *channel.stages[i];
        if (!stage.enabled) {
            continue;
        }
        parts.push_back(*chain.stages.at(stage.id).filter);
        if (const auto own = series_parts_of(parts.back().form()); !own) {
            return tl::unexpected(within(fmt::format("{}, stages[{}]", place, i), own.error()));
        }
    }
    const Filter all = series(parts);
    auto in_series = series_parts_of(all.form());
    if (!in_series) {
        return tl::unexpected(within(place, in_series.error()));
    }
    set.cascade = std::move(in_series->cascade);
    set.delay_samples = in_series->delay_samples;
    set.taps = std::move(in_series->taps);
    return set;
}

Expected<std::string> coefficient_text(const CoefficientSet& set, const CoefficientLayout& layout) {
    if (auto ok = check(layout); !ok) {
        return tl::unexpected(ok.error());
    }
    const auto rows = coefficient_rows(set.cascade, layout);
    if (!rows) {
        return tl::unexpected(rows.error());
    }
    const auto taps = tap_texts(set.taps, layout);
    if (!taps) {
        return tl::unexpected(taps.error());
    }
    switch (layout.format) {
    case FileFormat::csv:
        return csv_text(set, layout, *rows, *taps);
    case FileFormat::json:
        return json_text(set, layout, *rows, *taps);
    case FileFormat::c_header:
        return c_header_text(set, layout, *rows, *taps);
    }
    return refuse("format", "is not known", "choose csv, json or c_header");
}

std::string coefficient_file_name(std::string_view study, std::string_view channel,
                                  std::string_view layout_name, FileFormat format) {
    return fmt::format("{}_{}_{}{}", slug(study, '-'), slug(channel, '-'), slug(layout_name, '-'),
                       extension_of(format));
}

} // namespace syntonon
