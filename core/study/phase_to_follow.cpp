// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/phase_to_follow.h"

#include "core/base/number_text.h"
#include "core/base/units.h"
#include "core/study/predicted_timing.h"

#include <algorithm>
#include <fmt/format.h>
#include <optional>

namespace syntonon {
namespace {

// Of what was measured, the delay included that was taken out of it.
class MeasuredPhase {
public:
    explicit MeasuredPhase(const Measured& measured)
        : timing_(**measured.timing), delay_s_(measured.delay_s()),
          low_hz_((*measured.timing)->low_hz()), high_hz_((*measured.timing)->high_hz()) {}

    double low_hz() const { return low_hz_; }
    double high_hz() const { return high_hz_; }
    double rad_at(double hz) const { return timing_.at(hz)->phase_rad - 2 * pi * hz * delay_s_; }

private:
    MeasuredTiming timing_;
    double delay_s_, low_hz_, high_hz_;
};

// Nothing without phase.
Expected<std::optional<MeasuredPhase>> measured_phase(const Study& study, const Channel& channel,
                                                      Briefs& briefs) {
    const auto measured = briefs.measured_of(study, channel);
    if (!measured) {
        return tl::unexpected(within("“" + channel.name + "”", measured.error()));
    }
    const bool has_phase = *measured != nullptr && (*measured)->timing.has_value();
    return has_phase ? std::optional<MeasuredPhase>(**measured) : std::nullopt;
}

Expected<Filter> chain_to_follow(const Study& study, const Channel& channel, Briefs& briefs) {
    const DesignedChain chain = briefs.design(study, channel);
    if (!chain.problems.empty()) {
        return refuse(
            "channel",
            fmt::format("“{}” cannot be designed: {}", channel.name, chain.problems.front().reason),
            chain.problems.front().way_out);
    }
    if (!chain.waits_for.empty()) {
        return tl::unexpected(being_designed(channel.name + ": " + chain.waits_for));
    }
    return chain.filter;
}

} // namespace

Expected<WishedLine> phase_to_follow(const Study& study, const Channel& channel,
                                     const PhaseAsked& asked, Briefs& briefs) {
    constexpr std::size_t points = 1201;
    const Channel* other = channel_of(study, asked.channel);
    if (other == nullptr || other->id == channel.id) {
        return refuse("channel",
                      other == nullptr ? fmt::format("there is no channel “{}”", asked.channel)
                                       : "a channel is always in phase with itself",
                      "name another one of the study's channels");
    }
    const auto chain = chain_to_follow(study, *other, briefs);
    const auto own = measured_phase(study, channel, briefs),
               theirs = measured_phase(study, *other, briefs);
    for (const Problem* why : {!chain ? &chain.error() : nullptr, !own ? &own.error() : nullptr,
                               !theirs ? &theirs.error() : nullptr}) {
        if (why != nullptr) {
            return tl::unexpected(*why);
        }
    }
    if (own->has_value() != theirs->has_value()) {
        const Channel& silent = own->has_value() ? *other : channel;
        return refuse("channel", fmt::format("“{}” is not measured with phase", silent.name),
                      "measure both channels by impulse responses, or neither");
    }
    double low = asked.from_hz, high = asked.to_hz;
    if (own->has_value()) {
        low = std::max({low, (*own)->low_hz(), (*theirs)->low_hz()});
        high = std::min({high, (*own)->high_hz(), (*theirs)->high_hz()});
    }
    const auto grid = FrequencyGrid::logarithmic(low, high, points, axis_of(study, channel));
    if (!(low < high) || !grid) {
        return refuse("from_hz",
                      fmt::format("both channels were not measured between {} and {}",
                                  frequency_text(asked.from_hz), frequency_text(asked.to_hz)),
                      "choose a range that both have");
    }
    WishedLine line;
    line.frequency_hz.assign(grid->frequency_hz().begin(), grid->frequency_hz().end());
    const Response response = chain->response(*grid);
    for (std::size_t i = 0; i < grid->size(); ++i) {
        const double hz = line.frequency_hz[i];
        const double measured = own->has_value() ? (*theirs)->rad_at(hz) - (*own)->rad_at(hz) : 0;
        line.value.push_back(deg_from_rad(response.phase_rad[i] + measured));
    }
    return line;
}

} // namespace syntonon
