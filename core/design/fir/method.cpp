// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/fir/method.h"

#include "core/base/units.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace syntonon {
namespace {

struct AllowedGain {
    double middle, error;
};

AllowedGain pass_gain(const Tolerances& t) {
    const double low = t.pass_as_ratio ? t.pass_ratio[0] : ratio_from_db(-t.pass_ripple_db);
    const double high = t.pass_as_ratio ? t.pass_ratio[1] : 1;
    return {(low + high) / 2, (high - low) / 2};
}

double stop_gain(const Tolerances& t) {
    return t.stop_as_ratio ? t.stop_ratio : ratio_from_db(-t.stop_attenuation_db);
}

std::string edge(const char* key, std::size_t i) {
    return fmt::format("spec.{}[{}]", key, i);
}

// Pass and stop edges as they follow one another from 0 Hz.
Expected<void> check_order(const std::vector<std::pair<std::string, double>>& edges, double rate) {
    double before = 0;
    for (const auto& [place, hz] : edges) {
        if (!(hz > before)) {
            return refuse(place, fmt::format("{} Hz is not above {} Hz", hz, before),
                          "let the edges rise as the band asks");
        }
        before = hz;
    }
    if (!(before < rate / 2)) {
        return refuse(
            edges.back().first,
            fmt::format("{} Hz is not below half the sample rate ({} Hz)", before, rate / 2),
            "lower it");
    }
    return {};
}

} // namespace

Expected<void> check_length(std::size_t length, std::size_t most) {
    if (length < 1 || length > most) {
        return refuse("length",
                      fmt::format("{} taps are too {}", length, length < 1 ? "few" : "many"),
                      fmt::format("take 1 to {}", most));
    }
    return {};
}

Expected<void> check_delay(double delay_samples, std::size_t length) {
    const auto last = static_cast<double>(length - 1);
    if (!(delay_samples >= 0 && delay_samples <= last)) {
        return refuse(
            "delay_samples",
            fmt::format("{} samples are not within the {} taps", delay_samples, length),
            fmt::format("take 0 to {}; half of that, {}, is linear phase", last, last / 2));
    }
    return {};
}

Expected<std::vector<LinePiece>> joined_wish(const FirTask& task, double delay_samples) {
    const auto wanted = amplitude_of(task.wish, task.brief);
    if (!wanted) {
        return tl::unexpected(wanted.error());
    }
    auto lines = joined(*wanted);
    if (delay_samples == middle_of(task.length)) {
        if (auto ok = check_reach({task.length, false}, {{lines.front(), 1}, {lines.back(), 1}});
            !ok) {
            return tl::unexpected(ok.error());
        }
    }
    return lines;
}

Expected<Amplitude> amplitude_of(const Tolerances& t, ClassicalBand band, double rate) {
    const AllowedGain pass = pass_gain(t);
    const double stop = stop_gain(t);
    if (!(pass.error > 0) || !(pass.middle > 0)) {
        return refuse(t.pass_as_ratio ? "spec.pass_ratio" : "spec.pass_ripple_db", "leaves no room",
                      "allow the pass band some ripple");
    }
    if (!(stop > 0 && stop < pass.middle - pass.error)) {
        return refuse(t.stop_as_ratio ? "spec.stop_ratio" : "spec.stop_attenuation_db",
                      "is not below the pass band", "ask for some attenuation");
    }
    std::vector<std::pair<std::string, double>> edges;
    const auto add = [&](const char* key, std::size_t i) {
        edges.emplace_back(edge(key, i), key[0] == 'p' ? t.pass_edges_hz[i] : t.stop_edges_hz[i]);
    };
    const bool begins_with_pass =
        band == ClassicalBand::low_pass || band == ClassicalBand::band_stop;
    const char* inner = begins_with_pass ? "pass_edges_hz" : "stop_edges_hz";
    const char* outer = begins_with_pass ? "stop_edges_hz" : "pass_edges_hz";
    add(inner, 0);
    add(outer, 0);
    if (has_two_edges(band)) {
        add(outer, 1);
        add(inner, 1);
    }
    if (auto ok = check_order(edges, rate); !ok) {
        return tl::unexpected(ok.error());
    }
    Amplitude wanted;
    bool passes = begins_with_pass;
    double from = 0;
    for (std::size_t i = 0; i <= edges.size(); i += 2) {
        const double to = i < edges.size() ? rad_per_sample_from_hz(edges[i].second, rate) : pi;
        const double gain = passes ? pass.middle : 0;
        wanted.push_back({{from, to, gain, gain}, 1 / (passes ? pass.error : stop)});
        from = i + 1 < edges.size() ? rad_per_sample_from_hz(edges[i + 1].second, rate) : pi;
        passes = !passes;
    }
    return wanted;
}

} // namespace syntonon
