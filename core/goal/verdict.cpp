// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/goal/verdict.h"

#include "core/base/number_text.h"
#include "core/base/units.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <functional>
#include <limits>
#include <numbers>

namespace syntonon {
namespace {

struct Extremum {
    double hz = 0;
    double value = -std::numeric_limits<double>::infinity();
};

using Function = std::function<double(double)>;

// The maximum of a function with one maximum in [low, high].
Extremum golden_section(const Function& f, double low, double high) {
    constexpr double inverse_golden = 1 / std::numbers::phi;
    double a = high - inverse_golden * (high - low), b = low + inverse_golden * (high - low);
    double fa = f(a), fb = f(b);
    // Near a smooth maximum the value is known to the square of what the place is known to, so
    // sqrt(machine epsilon) of the bracket is where more steps stop telling anything.
    const double enough = 3e-8 * high;
    double inner_low = low, inner_high = high;
    for (int step = 0; step < 80 && inner_high - inner_low > enough * 1e-2; ++step) {
        if (fa > fb) {
            inner_high = b;
            b = a, fb = fa;
            a = inner_high - inverse_golden * (inner_high - inner_low);
            fa = f(a);
        } else {
            inner_low = a;
            a = b, fa = fb;
            b = inner_low + inverse_golden * (inner_high - inner_low);
            fb = f(b);
        }
        if (std::abs(fa - fb) < 1e-13 && inner_high - inner_low < 1e-4 * high) {
            break;
        }
    }
    return fa > fb ? Extremum{a, fa} : Extremum{b, fb};
}

// The greatest value of `f`, known at ascending `hz` as `sampled`, also between them.
Extremum greatest(const Function& f, const std::vector<double>& hz,
                  const std::vector<double>& sampled) {
    Extremum best;
    struct Peak {
        std::size_t at;
        double could_reach;
    };
    std::vector<Peak> peaks;
    const std::size_t last = hz.size() - 1;
    for (std::size_t i = 0; i <= last; ++i) {
        if (sampled[i] > best.value) {
            best = {hz[i], sampled[i]};
        }
        const double before = i > 0 ? sampled[i] - sampled[i - 1] : 0;
        const double after = i < last ? sampled[i] - sampled[i + 1] : 0;
        if (before >= 0 && after >= 0) {
            // A parabola through three points rises above the middle one by at most an eighth of
            // the larger step; twice that step is a safe bound for anything this grid resolves.
            const double step = std::max(before, after);
            peaks.push_back({i, std::isfinite(step) ? sampled[i] + 2 * step + 1e-3 : sampled[i]});
        }
    }
    std::ranges::sort(peaks, std::greater<>(), &Peak::could_reach);
    for (const Peak& peak : peaks) {
        if (!(peak.could_reach > best.value)) {
            break;
        }
        // The sampled point may be a corner of the measured curve: each side has its own maximum.
        for (const bool upper : {false, true}) {
            if (upper ? peak.at == last : peak.at == 0) {
                continue;
            }
            const double low = hz[upper ? peak.at : peak.at - 1];
            const double high = hz[upper ? peak.at + 1 : peak.at];
            const Extremum found = golden_section(f, low, high);
            if (found.value > best.value) {
                best = found;
            }
        }
    }
    return best;
}

std::string title_of(const CorridorRange& range) {
    return "corridor " + range_text(range.from_hz, range.to_hz);
}

Finding undecided(std::string requirement, std::string reason) {
    Finding finding;
    finding.requirement = std::move(requirement);
    finding.reason = std::move(reason);
    return finding;
}

// Why a range cannot be judged, or nothing.
std::string obstacle(const CorridorRange& range, const Prediction& prediction) {
    const double half = nyquist_hz(prediction.sample_rate_hz());
    if (range.to_hz > half) {
        return fmt::format("the range ends above half the sample rate ({}); lower its end",
                           frequency_text(half, 4));
    }
    if (range.from_hz < prediction.low_hz() || range.to_hz > prediction.high_hz()) {
        return fmt::format("the measured curve covers only {}; narrow the range or import more",
                           range_text(prediction.low_hz(), prediction.high_hz()));
    }
    return {};
}

void take_worse(Finding& finding, const Extremum& excess, double limit, double sign) {
    // -infinity inside an open side or a zero of the chain: no number to show, but a margin to
    // judge.
    const double margin = -excess.value;
    if (!finding.margin || margin < *finding.margin) {
        finding.margin = margin;
        finding.value = sign * (limit + excess.value);
        finding.limit = sign * limit;
        finding.worst_hz = excess.hz;
    }
}

// Numbers that do not exist are absent, not infinite: a zero of the chain is infinitely far below.
void drop_infinities(Finding& finding) {
    for (auto* number : {&finding.value, &finding.margin}) {
        if (*number && !std::isfinite(**number)) {
            number->reset();
        }
    }
}

Finding judge_range(const CorridorRange& range, const Target& target,
                    const Prediction& prediction) {
    if (const std::string why = obstacle(range, prediction); !why.empty()) {
        return undecided(title_of(range), why);
    }
    std::vector<double> hz = prediction.telling_frequencies(range.from_hz, range.to_hz);
    for (const TargetPoint& point : target.points) {
        if (point.frequency_hz > range.from_hz && point.frequency_hz < range.to_hz) {
            hz.push_back(point.frequency_hz);
        }
    }
    const auto grid = FrequencyGrid::from_frequencies(std::move(hz), prediction.sample_rate_hz());
    if (!grid) {
        return undecided(title_of(range), to_text(grid.error()));
    }
    const std::vector<double> frequencies(grid->frequency_hz().begin(), grid->frequency_hz().end());
    std::vector<double> deviation = prediction.levels_db(*grid);
    for (std::size_t i = 0; i < deviation.size(); ++i) {
        deviation[i] -= level_db_at(target, frequencies[i]);
    }
    Finding finding;
    finding.requirement = title_of(range);
    finding.unit = "dB";
    for (const double sign : {+1.0, -1.0}) {
        const auto& limit = sign > 0 ? range.above_db : range.below_db;
        if (!limit) {
            continue;
        }
        std::vector<double> excess(deviation.size());
        std::ranges::transform(deviation, excess.begin(),
                               [&](double d) { return sign * d - *limit; });
        const Function f = [&](double at) {
            return sign * (prediction.level_db_at(at) - level_db_at(target, at)) - *limit;
        };
        take_worse(finding, greatest(f, frequencies, excess), *limit, sign);
    }
    finding.outcome = finding.margin && *finding.margin >= 0 ? Outcome::met : Outcome::not_met;
    drop_infinities(finding);
    return finding;
}

Finding judge_stability(const Prediction& prediction) {
    Finding finding;
    finding.requirement = "stability";
    double margin = 1;
    for (const Filter& filter : prediction.chain()) {
        margin = std::min(margin, filter.stability_margin());
    }
    finding.value = margin;
    finding.limit = 0;
    finding.margin = margin;
    finding.outcome = margin > 0 ? Outcome::met : Outcome::not_met;
    return finding;
}

} // namespace

bool is_met(const Verdict& verdict) {
    return std::ranges::all_of(verdict, [](const Finding& f) { return f.outcome == Outcome::met; });
}

Verdict judge(const Goal* goal, const Prediction& prediction) {
    Verdict verdict;
    if (goal != nullptr) {
        if (const auto ok = check(*goal); !ok) {
            return undecided_verdict(goal, to_text(ok.error()));
        }
        for (const CorridorRange& range : goal->corridor) {
            verdict.push_back(judge_range(range, goal->target, prediction));
        }
    }
    verdict.push_back(judge_stability(prediction));
    return verdict;
}

Verdict undecided_verdict(const Goal* goal, const std::string& why) {
    Verdict verdict;
    if (goal != nullptr) {
        for (const CorridorRange& range : goal->corridor) {
            verdict.push_back(undecided(title_of(range), why));
        }
    }
    verdict.push_back(undecided("stability", why));
    return verdict;
}

} // namespace syntonon
