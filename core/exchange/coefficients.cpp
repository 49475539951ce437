// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/coefficients.h"

#include "core/exchange/coefficient_writers.h"
#include "core/study/channel_parts.h"

#include <fmt/format.h>

namespace syntonon {

Expected<CoefficientSet> coefficients_of(const Study& study, const Channel& channel,
                                         Briefs& briefs) {
    auto parts = channel_parts(study, channel, briefs);
    if (!parts) {
        return tl::unexpected(parts.error());
    }
    return CoefficientSet{study.name,           channel.name,
                          study.sample_rate_hz, std::move(parts->cascade),
                          parts->delay_samples, std::move(parts->taps)};
}

Expected<std::string> coefficient_text(const CoefficientSet& set, const CoefficientLayout& layout,
                                       bool indexed) {
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
        return csv_text(set, layout, *rows, *taps, indexed);
    case FileFormat::text:
        return plain_text(set, layout, *rows, *taps, indexed);
    case FileFormat::json:
        return json_text(set, layout, *rows, *taps);
    case FileFormat::c_header:
        return c_header_text(set, layout, *rows, *taps);
    default:
        break;
    }
    return refuse("format", "is no table of numbers", "choose text, csv, json or c_header");
}

} // namespace syntonon
