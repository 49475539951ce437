// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/filter/series.h"

#include "core/filter/form.h"
#include "core/math/complex_parts.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace syntonon {
namespace {

// Levels, phases and delays add, so a series is as exact as its parts.
class SeriesProber : public Prober {
public:
    explicit SeriesProber(const Series& chain) {
        for (const Filter& part : chain.parts) {
            parts_.push_back(part.prober());
        }
    }

    FilterValue value(const CirclePoint& at) const override {
        FilterValue all{1, 0, 0};
        for (const auto& part : parts_) {
            const FilterValue one = part->value(at);
            all = {times(all.h, one.h), times(all.slope, one.h) + times(all.h, one.slope),
                   all.floor * size_of(one.h) + size_of(all.h) * one.floor};
        }
        return all;
    }
    ResponsePoint response(const CirclePoint& at) const override {
        ResponsePoint all;
        for (const auto& part : parts_) {
            const ResponsePoint one = part->response(at);
            all = {all.magnitude_db + one.magnitude_db, all.phase_rad + one.phase_rad,
                   all.group_delay_samples + one.group_delay_samples};
        }
        return all;
    }
    double level_db(const CirclePoint& at) const override {
        return sum([&](const Prober& part) { return part.level_db(at); });
    }
    double phase_rad(const CirclePoint& at, Side side) const override {
        return sum([&](const Prober& part) { return part.phase_rad(at, side); });
    }
    double group_delay_samples(const CirclePoint& at) const override {
        return sum([&](const Prober& part) { return part.group_delay_samples(at); });
    }

private:
    template <class Ask>
    double sum(Ask ask) const {
        double all = 0;
        for (const auto& part : parts_) {
            all += ask(*part);
        }
        return all;
    }
    std::vector<std::shared_ptr<const Prober>> parts_;
};

void append(std::vector<Filter>& parts, const Filter& filter) {
    if (const auto* chain = std::get_if<Series>(&filter.form())) {
        parts.insert(parts.end(), chain->parts.begin(), chain->parts.end());
    } else {
        parts.push_back(filter);
    }
}

// The cascades from `first` to `last` as one; their roots are handed on.
Filter merged(std::span<const Filter> cascades) {
    if (cascades.size() == 1) {
        return cascades.front();
    }
    Cascade all;
    Roots roots;
    for (const Filter& filter : cascades) {
        const auto& sections = std::get<Cascade>(filter.form()).sections;
        all.sections.insert(all.sections.end(), sections.begin(), sections.end());
        roots = series(std::move(roots), *filter.roots());
    }
    return Filter(std::move(all), std::move(roots));
}

} // namespace

Filter series(std::span<const Filter> chain) {
    std::vector<Filter> parts;
    for (const Filter& filter : chain) {
        append(parts, filter);
    }
    const auto is_cascade = [](const Filter& f) {
        return std::holds_alternative<Cascade>(f.form());
    };
    Series all;
    for (auto from = parts.begin(); from != parts.end();) {
        const auto to =
            is_cascade(*from) ? std::find_if_not(from, parts.end(), is_cascade) : from + 1;
        all.parts.push_back(is_cascade(*from) ? merged({from, to}) : *from);
        from = to;
    }
    return all.parts.empty()       ? Filter()
           : all.parts.size() == 1 ? all.parts.front()
                                   : Filter(std::move(all));
}

std::shared_ptr<const Prober> prober(const Series& chain) {
    return std::make_shared<SeriesProber>(chain);
}

void add_telling_hz(const Series& chain, const TellingRange& range, std::vector<double>& out) {
    for (const Filter& part : chain.parts) {
        const auto own = part.telling_hz(range);
        out.insert(out.end(), own.begin(), own.end());
    }
}

Expected<Roots> roots_of(const Series& chain) {
    Roots all;
    for (const Filter& part : chain.parts) {
        const auto& roots = part.roots();
        if (!roots) {
            return roots;
        }
        all = series(std::move(all), *roots);
    }
    return all;
}

double finite_samples(const Series& chain) {
    return std::accumulate(
        chain.parts.begin(), chain.parts.end(), 0.0,
        [](double sum, const Filter& part) { return sum + part.finite_samples(); });
}

Expected<double> slowest_pole_radius(const Series& chain, double sample_rate_hz) {
    double slowest = 0;
    for (const Filter& part : chain.parts) {
        auto one = part.slowest_pole_radius(sample_rate_hz);
        if (!one) {
            return one;
        }
        slowest = std::max(slowest, *one);
    }
    return slowest;
}

void run(const Series& chain, std::span<double> signal) {
    for (const Filter& part : chain.parts) {
        part.run(signal);
    }
}

double latency_samples(const Series& chain) {
    double samples = 0;
    for (const Filter& part : chain.parts) {
        samples += part.latency_samples();
    }
    return samples;
}

Cost cost(const Series& chain) {
    Cost all;
    for (const Filter& part : chain.parts) {
        all += part.cost();
    }
    return all;
}

std::size_t bytes_of(const Series& chain) {
    std::size_t bytes = 0;
    for (const Filter& part : chain.parts) {
        bytes += part.bytes();
    }
    return bytes;
}

} // namespace syntonon
