// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/units.h"
#include "core/filter/form.h"
#include "core/goal/judge_requirement.h"
#include "core/goal/judging.h"

#include <algorithm>
#include <cmath>
#include <complex>
#include <fmt/format.h>
#include <utility>

namespace syntonon {
namespace {

// The chain itself, and those that it is held against.
Expected<std::vector<Filter>> filters_together(const ChannelIds& with,
                                               const Prediction& prediction) {
    std::vector<Filter> filters{prediction.chain()};
    const Company* company = prediction.company();
    const std::vector<std::string> none;
    const auto& ids = !with.ids.empty() ? with.ids : company != nullptr ? company->ways : none;
    for (const std::string& id : ids) {
        const auto member = company != nullptr
                                ? std::ranges::find(company->members, id, &Company::Member::channel)
                                : std::vector<Company::Member>::const_iterator();
        if (company == nullptr || member == company->members.end()) {
            continue; // itself
        }
        if (!member->chain) {
            return tl::unexpected(member->chain.error());
        }
        filters.push_back(*member->chain);
    }
    if (filters.size() < 2) {
        return refuse("with", "there is no channel that it could be complementary to",
                      "name some, or give the channel a way of a crossover");
    }
    return filters;
}

struct Together {
    std::vector<Filter> filters;
    Prediction sum;
};

Expected<Together> together(const ChannelIds& with, double from_hz, double to_hz, const Case& c) {
    auto filters = filters_together(with, c.prediction);
    if (!filters) {
        return tl::unexpected(filters.error());
    }
    ParallelSum sum;
    for (const Filter& filter : *filters) {
        sum.branches.push_back({1, filter});
    }
    Together made{*std::move(filters),
                  Prediction(Filter(std::move(sum)), nullptr, c.prediction.axis())};
    if (const std::string why = obstacle_in(from_hz, to_hz, made.sum); !why.empty()) {
        return refuse("", why, "");
    }
    return made;
}

Finding not_decided(const Case& c, const Problem& why) {
    return undecided(c.title, why.way_out.empty() ? why.reason : why.reason + "; " + why.way_out);
}

// Farthest from 0 dB, either way.
Finding judged_about_0(const Case& c, const Sampled& level, double max_db) {
    const Extremum high = highest(level), low = lowest(level);
    const Extremum& worst = std::abs(high.value) >= std::abs(low.value) ? high : low;
    const double limit = worst.value < 0 ? -max_db : max_db;
    return judged(c.title, "dB", worst.value, limit, max_db - std::abs(worst.value), worst.hz);
}

// Of what is not the prediction's own quantity, where its extremes are told from one another.
Sampled sampled_by(const Prediction& told_by, double from_hz, double to_hz, Function f) {
    Sampled made{std::move(f), told_by.telling_frequencies(from_hz, to_hz), {}};
    std::ranges::sort(made.hz);
    for (const double hz : made.hz) {
        made.values.push_back(made.f(hz));
    }
    return made;
}

} // namespace

Finding judge(const AllPassComplementaryRequirement& r, const Case& c) {
    const auto all = together(r.with, r.from_hz, r.to_hz, c);
    return all ? judged_about_0(c, sampled(r.from_hz, r.to_hz, all->sum, level_measure(all->sum)),
                                r.max_db)
               : not_decided(c, all.error());
}

Finding judge(const PowerComplementaryRequirement& r, const Case& c) {
    const auto all = together(r.with, r.from_hz, r.to_hz, c);
    if (!all) {
        return not_decided(c, all.error());
    }
    std::vector<Probe> probes;
    for (const Filter& filter : all->filters) {
        probes.emplace_back(filter, c.prediction.axis());
    }
    const auto power_db = [&](double hz) {
        double power = 0;
        for (const Probe& probe : probes) {
            power += std::norm(probe.value(hz).h);
        }
        return db_from_power(power);
    };
    return judged_about_0(c, sampled_by(all->sum, r.from_hz, r.to_hz, power_db), r.max_db);
}

Finding judge(const DelayComplementaryRequirement& r, const Case& c) {
    const auto all = together(r.with, r.from_hz, r.to_hz, c);
    if (!all) {
        return not_decided(c, all.error());
    }
    const double delay = all->sum.group_delay_samples_at(r.from_hz);
    const Probe sum(all->sum.chain(), c.prediction.axis());
    // How far off its place on the circle the sum is: as a level, what that could come to.
    const auto off_db = [&, rate_hz = c.rate()](double hz) {
        const double w = rad_per_sample_from_hz(hz, rate_hz);
        return db_from_ratio(1 + std::abs(sum.value(hz).h * std::polar(1.0, w * delay) - 1.0));
    };
    if (!std::isfinite(delay)) {
        return undecided(c.title, "the sum vanishes where the range begins; begin it elsewhere");
    }
    return judged_about_0(c, sampled_by(all->sum, r.from_hz, r.to_hz, off_db), r.max_db);
}

} // namespace syntonon
