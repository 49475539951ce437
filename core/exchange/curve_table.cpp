// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/curve_table.h"

#include "core/base/number_text.h"
#include "core/base/units.h"

#include <cmath>

namespace syntonon {
namespace {

constexpr int exact_digits = 17;

std::string cell(std::optional<double> value) {
    return value && std::isfinite(*value) ? text_with_digits(*value, exact_digits) : std::string();
}

// Names may hold commas and quotes (RFC 4180).
std::string quoted(const std::string& name) {
    std::string out = "\"";
    for (const char c : name) {
        out += c == '"' ? "\"\"" : std::string(1, c);
    }
    return out + "\"";
}

} // namespace

std::string curve_table(const Study& study, const Channel& channel,
                        const ChannelAnalysis& analysis) {
    std::string text = "frequency_hz,measured_db,predicted_db,target_db,weight,chain_db,"
                       "chain_phase_deg,chain_group_delay_ms";
    std::vector<std::vector<double>> takes;
    const Trace& total = analysis.total;
    const CurveReader* reader = analysis.measured != nullptr ? &analysis.measured->reader : nullptr;
    const auto grid = FrequencyGrid::from_frequencies(total.frequency_hz, study.sample_rate_hz);
    for (std::size_t i = 0; i < channel.takes.size() && grid; ++i) {
        if (channel.takes[i]->shown && !analysis.takes[i]->problem) {
            text += "," + quoted(channel.takes[i]->name + " db");
            takes.push_back(Prediction(analysis.takes[i]->chain, reader, study.sample_rate_hz)
                                .levels_db(*grid));
        }
    }
    text += "\n";
    for (std::size_t i = 0; i < total.frequency_hz.size(); ++i) {
        const double hz = total.frequency_hz[i];
        std::optional<double> level;
        if (reader != nullptr && reader->covers(hz)) {
            level = reader->magnitude_db_at(hz);
        }
        const bool known = reader == nullptr || level;
        const double chain = total.response.magnitude_db[i];
        const auto& goal = analysis.goal;
        text +=
            cell(hz) + "," + cell(level) + ","
            + cell(known ? std::optional(chain + level.value_or(0)) : std::nullopt) + ","
            + cell(goal && goal->level && is_stated(goal->goal->target) ? goal->level->value_at(hz)
                                                                        : std::nullopt)
            + "," + cell(goal ? std::optional(weight_at(goal->goal->weights, hz)) : std::nullopt)
            + "," + cell(chain) + "," + cell(deg_from_rad(total.response.phase_rad[i])) + ","
            + cell(total.response.group_delay_samples[i] / study.sample_rate_hz * 1e3);
        for (const auto& take : takes) {
            text += "," + cell(known ? std::optional(take[i]) : std::nullopt);
        }
        text += "\n";
    }
    return text;
}

} // namespace syntonon
