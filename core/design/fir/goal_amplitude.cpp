// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/fir/goal_amplitude.h"

#include "core/base/units.h"
#include "core/design/asked.h"

#include <algorithm>
#include <cmath>
#include <optional>

namespace syntonon {
namespace {

struct Aim {
    double gain, room;
};

constexpr double stopband = 0.1;    // of the greatest gain
constexpr double least_room = 0.01; // of the gain: where the target lies on the corridor's edge
constexpr double inside_db = 1;

// Where a closed corridor is aimed at: its middle leaves most room, but where ranges of differing
// width touch it jumps, and the target does not.
enum class Closed { middle, target };

class Aims {
public:
    Aims(double greatest, Least least, Closed closed)
        : greatest_(greatest), least_(least), closed_(closed) {}

    Aim at(const Asked& asked) const {
        const auto level = gain_of(asked.level_db);
        const auto lower = gain_of(asked.lower_db), upper = gain_of(asked.upper_db);
        if (lower && upper) {
            const double middle = (*lower + *upper) / 2;
            if (closed_ == Closed::middle || !level || *level < *lower || *level > *upper) {
                return {middle, std::max((*upper - *lower) / 2, least_room * middle * 1e-3)};
            }
            const double room = least_ == Least::squared_error
                                    ? (*upper - *lower) / 2
                                    : std::min(*upper - *level, *level - *lower);
            return {*level, std::max(room, least_room * middle)};
        }
        if (upper && *upper <= stopband * greatest_) {
            return {0, *upper};
        }
        if (lower || upper) {
            const double edge = upper.value_or(lower.value_or(0));
            const double gain =
                level.value_or(edge * ratio_from_db(upper ? -inside_db : inside_db));
            const double room = upper ? edge - gain : gain - edge;
            return {gain, std::max(room, least_room * edge)};
        }
        return {level.value_or(0), greatest_};
    }

    double weight_at(const Asked& asked) const {
        const double room = at(asked).room;
        return asked.weight / (least_ == Least::squared_error ? room * room : room);
    }

private:
    static std::optional<double> gain_of(std::optional<double> db) {
        return db ? std::optional(ratio_from_db(*db)) : std::nullopt;
    }

    double greatest_;
    Least least_;
    Closed closed_;
};

double greatest_gain(const Wished& wished) {
    double db = -infinity;
    for (const WishedPart& part : wished) {
        for (const auto* values : {&part.level_db, &part.lower_db}) {
            for (const double value : *values) {
                db = std::max(db, value);
            }
        }
    }
    return std::isfinite(db) ? ratio_from_db(db) : 1;
}

double distance_db(std::optional<double> a, std::optional<double> b) {
    return a && b ? std::abs(*a - *b) : 0;
}

// Straight in gain over Hz between places that lie close enough together.
void add_line(const Asked& a, const Asked& b, const Aims& aims, double rate, Amplitude& wanted) {
    constexpr double most_step_db = 0.5; // straight in gain is then within 0.001 dB of so in dB
    constexpr double most_weight_step = 0.06;
    const double db =
        std::max({distance_db(a.level_db, b.level_db), distance_db(a.lower_db, b.lower_db),
                  distance_db(a.upper_db, b.upper_db)});
    const double turns = std::abs(std::log(aims.weight_at(b) / aims.weight_at(a)));
    const auto steps = std::max(
        1, static_cast<int>(std::ceil(std::max(db / most_step_db, turns / most_weight_step))));
    for (int k = 0; k < steps; ++k) {
        const Asked from = between(a, b, double(k) / steps);
        const Asked to = between(a, b, double(k + 1) / steps);
        wanted.push_back({{rad_per_sample_from_hz(from.hz, rate),
                           std::min(rad_per_sample_from_hz(to.hz, rate), pi), aims.at(from).gain,
                           aims.at(to).gain},
                          std::max(aims.weight_at(from), aims.weight_at(to))});
    }
}

Amplitude amplitude_of(const Wished& wished, double rate, Least least, Closed closed) {
    const Aims aims(greatest_gain(wished), least, closed);
    Amplitude wanted;
    for (const WishedPart& part : wished) {
        for (std::size_t i = 0; i + 1 < part.frequency_hz.size(); ++i) {
            if (part.frequency_hz[i] < std::min(part.frequency_hz[i + 1], rate / 2)) {
                add_line(asked_at(part, i), asked_at(part, i + 1), aims, rate, wanted);
            }
        }
    }
    return wanted;
}

bool jumps(const Amplitude& wanted) {
    constexpr double least = 1e-9;
    return std::ranges::adjacent_find(wanted,
                                      [](const AmplitudePiece& a, const AmplitudePiece& b) {
                                          return a.gain.to == b.gain.from
                                                 && std::abs(a.gain.at_to - b.gain.at_from) > least;
                                      })
           != wanted.end();
}

Amplitude amplitude_of(const Wished& wished, double rate, Least least) {
    if (least == Least::squared_error) {
        return amplitude_of(wished, rate, least, Closed::target);
    }
    Amplitude middle = amplitude_of(wished, rate, least, Closed::middle);
    return jumps(middle) ? amplitude_of(wished, rate, least, Closed::target) : middle;
}

} // namespace

Expected<Amplitude> amplitude_of_goal(const Brief& brief, Least least) {
    if (brief.wished == nullptr || brief.wished->empty()) {
        return refuse("use_goal", "the channel's goal states no target and no corridor of its own",
                      "state one (Goal pane), or bands");
    }
    return amplitude_of(*brief.wished, brief.sample_rate_hz, least);
}

Expected<Amplitude> amplitude_of_corridor(const Brief& brief) {
    Wished corridor;
    if (brief.wished != nullptr) {
        for (const WishedPart& part : *brief.wished) {
            if (!part.lower_db.empty() || !part.upper_db.empty()) {
                corridor.push_back(part);
                corridor.back().weight.clear();
            }
        }
    }
    if (corridor.empty()) {
        return refuse("use_goal",
                      "the channel's goal has no corridor that a length could be "
                      "found for",
                      "draw one (Goal pane), or give a length");
    }
    return amplitude_of(corridor, brief.sample_rate_hz, Least::greatest_error);
}

} // namespace syntonon
