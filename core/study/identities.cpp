// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/identities.h"

#include "core/base/number_text.h"
#include "core/base/units.h"
#include "core/filter/form.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <fmt/format.h>
#include <optional>
#include <utility>

namespace syntonon {
namespace {

using Complex = std::complex<double>;

constexpr double close = 1e-9;
constexpr double longest_told = 4096; // samples: what is longer is not told of
constexpr double any_rate = 48000;

// Not the ends, where a phase of 180 degrees and 0 look alike.
FrequencyGrid points_of(std::size_t count) {
    return *FrequencyGrid::linear(any_rate / 2 * 1e-4, any_rate / 2 * (1 - 1e-4), count, any_rate);
}

// H at more than twice as many points as any of the filters' orders together.
std::optional<std::vector<Complex>> values_of(const Filter& filter, double order) {
    if (!(order <= longest_told)) {
        return std::nullopt;
    }
    std::vector<Complex> values;
    for (const FilterValue& value :
         filter.values(points_of(static_cast<std::size_t>(2 * order) + 16))) {
        values.push_back(value.h);
    }
    return values;
}

std::optional<std::vector<Complex>> values_of(const Filter& filter) {
    return values_of(filter, filter.finite_samples());
}

template <class Difference>
bool all_near(const std::vector<Complex>& values, double size, Difference difference) {
    return size > 0 && std::isfinite(size) && std::ranges::all_of(values, [&](const Complex& h) {
               return difference(h) <= close * size;
           });
}

bool has_one_value(const std::vector<Complex>& values) {
    return all_near(values, std::abs(values[0]),
                    [&](const Complex& h) { return std::abs(h - values[0]); });
}

bool has_one_size(const std::vector<Complex>& values) {
    const double size = std::abs(values[0]);
    return all_near(values, size, [&](const Complex& h) { return std::abs(std::abs(h) - size); });
}

std::string name_of(const Stage& stage) {
    return stage.name.empty() ? title_of(stage) + " " + summary_of(stage) : "“" + stage.name + "”";
}

std::string at_level(const Filter& filter) {
    const double db = Probe(filter, any_rate).level_db(any_rate / 8);
    return std::abs(db) < 1e-8 ? "" : fmt::format(" at {} dB", signed_text(db, 2));
}

// Whether the values are those of a delay.
bool are_delayed_by(std::size_t samples, const std::vector<Complex>& values) {
    const auto grid = points_of(values.size());
    const auto delayed = Filter(Delay{samples}).values(grid);
    for (std::size_t i = 0; i < values.size(); ++i) {
        if (!(std::abs(values[i] - delayed[i].h) <= close)) {
            return false;
        }
    }
    return true;
}

// What is of one size everywhere is so at a few places: most filters are told apart at once.
bool may_have_one_size(const Filter& filter) {
    const Probe probe(filter, any_rate);
    const double size = std::abs(probe.value(77).h);
    constexpr std::array places{333.0, 1111.0, 4321.0, 9999.0, 17171.0};
    return std::ranges::all_of(places, [&](double hz) {
        return std::abs(std::abs(probe.value(hz).h) - size) <= close * size;
    });
}

// "Split is all-pass", "the chain sums to one".
std::optional<std::string> said_of(const std::string& name, const Filter& filter) {
    const auto values = may_have_one_size(filter) ? values_of(filter) : std::nullopt;
    if (values && has_one_value(*values)) {
        const double factor = values->front().real();
        return std::abs(factor - 1) <= close
                   ? fmt::format("{} sums to one", name)
                   : fmt::format("{} is a gain of {}, nothing else", name, short_number(factor));
    }
    if (values && has_one_size(*values)) {
        const auto delay = pure_delay_samples(filter);
        return delay ? fmt::format("{} is a delay of {} samples, nothing else", name, *delay)
                     : fmt::format("{} is all-pass{}", name, at_level(filter));
    }
    return is_minimum_phase(filter)
               ? std::optional(fmt::format("{} is minimum phase: no excess phase", name))
               : std::nullopt;
}

class Finder {
public:
    explicit Finder(const FilterOfStage& filter_of) : filter_of_(filter_of) {}

    void look_at(const Chain& chain) {
        std::vector<std::pair<const Stage*, Filter>> row;
        for (const Stage* stage : stages_that_count(chain)) {
            if (const auto filter = filter_of_(*stage)) {
                row.emplace_back(stage, *filter);
                look_into(*stage, *filter);
            }
        }
        for (std::size_t i = 0; i < row.size(); ++i) {
            for (std::size_t k = i + 1; k < row.size(); ++k) {
                if (are_inverse(row[i].second, row[k].second)) {
                    found.push_back({fmt::format("{} and {} cancel in magnitude and phase",
                                                 name_of(*row[i].first), name_of(*row[k].first)),
                                     {row[i].first->id, row[k].first->id}});
                }
            }
        }
    }

    std::vector<Identity> found;

private:
    void look_into(const Stage& stage, const Filter& filter) {
        const auto chains = chains_in(stage);
        if (chains.empty()) {
            return;
        }
        if (const auto words = said_of(name_of(stage), filter)) {
            found.push_back({*words, {stage.id}});
        }
        const auto* sum = std::get_if<ParallelSum>(&filter.form());
        if (sum != nullptr && sum->branches.size() == 2) {
            std::vector<Filter> branches;
            for (const PartCurve& part : part_curves(filter)) {
                branches.push_back(part.filter);
            }
            if (are_power_complementary(branches[0], branches[1])) {
                found.push_back(
                    {fmt::format("the branches of {} are power-complementary", name_of(stage)),
                     {stage.id}});
            }
        }
        for (const Chain* held : chains) {
            look_at(*held);
        }
    }

    const FilterOfStage& filter_of_;
};

} // namespace

bool is_constant(const Filter& filter) {
    const auto values = values_of(filter);
    return values && has_one_value(*values);
}

bool is_all_pass(const Filter& filter) {
    const auto values = values_of(filter);
    return values && has_one_size(*values) && !has_one_value(*values);
}

std::optional<double> pure_delay_samples(const Filter& filter) {
    const auto samples = static_cast<std::size_t>(std::lround(filter.latency_samples()));
    const auto values = values_of(filter, filter.finite_samples() + static_cast<double>(samples));
    return values && are_delayed_by(samples, *values) ? std::optional(static_cast<double>(samples))
                                                      : std::nullopt;
}

bool is_minimum_phase(const Filter& filter) {
    constexpr double clear = 1e-9; // of the circle
    if (filter.finite_samples() > double(most_roots_of_a_sum) || !filter.roots()
        || !filter.is_stable()) {
        return false;
    }
    const Roots& roots = *filter.roots();
    const double inside = 1 - clear - roots.uncertainty;
    return roots.gain != 0 && roots.delay_samples == 0
           && std::ranges::all_of(roots.zeros,
                                  [&](const Complex& zero) { return std::abs(zero) < inside; });
}

bool are_inverse(const Filter& a, const Filter& b) {
    const double order = a.finite_samples() + b.finite_samples();
    const double there = Probe(a, any_rate).level_db(1000),
                 here = Probe(b, any_rate).level_db(1000);
    const double further = Probe(a, any_rate).level_db(7000) + Probe(b, any_rate).level_db(7000);
    if (!(std::abs(there + here - further) < 1e-6)) {
        return false; // most pairs are told apart at once
    }
    const auto of_a = values_of(a, order);
    auto product = values_of(b, order);
    if (!of_a || !product || has_one_value(*of_a)) {
        return false; // gains cancel nothing
    }
    for (std::size_t i = 0; i < of_a->size(); ++i) {
        (*product)[i] *= (*of_a)[i];
    }
    return has_one_value(*product);
}

bool are_power_complementary(const Filter& a, const Filter& b) {
    const double order = a.finite_samples() + b.finite_samples();
    const auto of_a = values_of(a, order), of_b = values_of(b, order);
    if (!of_a || !of_b || has_one_value(*of_a)) {
        return false;
    }
    for (std::size_t i = 0; i < of_a->size(); ++i) {
        if (!(std::abs(std::norm((*of_a)[i]) + std::norm((*of_b)[i]) - 1) <= close)) {
            return false;
        }
    }
    return true;
}

std::vector<Identity> identities_of(const Chain& chain, const Filter& whole,
                                    const FilterOfStage& filter_of) {
    Finder finder(filter_of);
    finder.look_at(chain);
    if (stages_that_count(chain).size() > 1) { // of one stage it is said already
        if (const auto words = said_of("the chain", whole)) {
            finder.found.insert(finder.found.begin(), {*words, {}});
        }
    }
    return std::move(finder.found);
}

} // namespace syntonon
