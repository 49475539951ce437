// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/json.h"
#include "core/exchange/coefficient_writers.h"

#include <fmt/format.h>

namespace syntonon {

std::string json_text(const CoefficientSet& set, const CoefficientLayout& layout,
                      const CoefficientRows& rows, const std::vector<std::string>& taps) {
    std::string text = "{\n \"format\": \"syntonon-coefficients\",\n";
    text += fmt::format(" \"study\": {},\n \"channel\": {},\n", json_string(set.study),
                        json_string(set.channel));
    text += fmt::format(" \"sample_rate_hz\": {},\n", set.sample_rate_hz);
    for (const auto& [key, value] : set.about) {
        text += fmt::format(" {}: {},\n", json_string(key), json_string(value));
    }
    text += fmt::format(" \"number\": \"{}\",\n", key_of(layout.number));
    text += fmt::format(" \"feedback\": \"{}\",\n \"feedback_meaning\": \"{}\",\n",
                        key_of(layout.feedback), meaning_of(layout.feedback));
    text += fmt::format(" \"normalisation\": \"{}\",\n \"normalisation_meaning\": \"{}\",\n",
                        key_of(layout.normalisation), meaning_of(layout.normalisation));
    text += fmt::format(" \"digits\": {},\n \"order\": \"{}\",\n \"sections\": [", layout.digits,
                        order_text(layout.order));
    for (std::size_t i = 0; i < rows.size(); ++i) {
        text += i > 0 ? ",\n  {" : "\n  {";
        for (std::size_t k = 0; k < rows[i].size(); ++k) {
            text +=
                fmt::format("{}\"{}\": {}", k > 0 ? ", " : "", key_of(layout.order[k]), rows[i][k]);
        }
        text += "}";
    }
    text += rows.empty() ? "]" : "\n ]";
    if (set.delay_samples > 0) {
        text += fmt::format(",\n \"delay_samples\": {}", set.delay_samples);
    }
    if (!taps.empty()) {
        text += fmt::format(",\n \"taps\": [\n  {}\n ]", fmt::join(taps, ",\n  "));
    }
    return text + "\n}\n";
}

} // namespace syntonon
