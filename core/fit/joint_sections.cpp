// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/fit/joint_sections.h"

#include <algorithm>
#include <cmath>
#include <numeric>

namespace syntonon {
namespace {

constexpr double least_section_q = 0.3, greatest_shelf_q = 1;
constexpr double least_all_pass_q = 0.1, greatest_all_pass_q = 30;
constexpr double outside_an_octave = 12, beyond_fade_oct = 2;
constexpr double limit_margin_db = 0.02; // kept from the limits, which are then met exactly
constexpr double dear_limit = 10, dear_outside = 3; // against an error in the range

std::size_t count_of(double octaves) {
    return static_cast<std::size_t>(std::ceil(octaves * outside_an_octave));
}

} // namespace

JointSections::JointSections(const CorrectionSpec& spec, const CorrectionAim& aim,
                             double sample_rate_hz)
    : spec_(spec), method_(std::get<SectionsCorrection>(spec.method)), aim_(aim) {
    const double end_hz = sample_rate_hz / 2;
    const double reach = fade_oct + beyond_fade_oct;
    std::vector<double> hz = aim.hz;
    for (std::size_t i = 1; i <= count_of(reach); ++i) {
        const double ratio = std::exp2(static_cast<double>(i) / outside_an_octave);
        hz.push_back(aim.hz.front() / ratio);
        if (aim.hz.back() * ratio < end_hz) {
            hz.push_back(aim.hz.back() * ratio);
        }
    }
    hz.push_back(0); // a shelf's plateau
    hz.push_back(end_hz);
    grid_ = *FrequencyGrid::from_frequencies(std::move(hz), sample_rate_hz);
    const auto all = grid_.frequency_hz();
    first_ = static_cast<std::size_t>(std::ranges::find(all, aim.hz.front()) - all.begin());
    const std::size_t last = first_ + aim.size() - 1;
    for (std::size_t i = 0; i < grid_.size(); ++i) {
        if (i >= first_ && i <= last) {
            continue;
        }
        const std::size_t edge = i < first_ ? first_ : last;
        const double octaves = all[i] > 0 ? std::abs(std::log2(all[i] / all[edge])) : reach;
        outside_.push_back({i, edge, std::max(0.0, 1 - octaves / fade_oct)});
    }
    locked_db_.assign(grid_.size(), 0.0);
    for (const FoundSection& found : method_.found) {
        if (found.locked) {
            const auto level =
                parametric_filter(found.section, sample_rate_hz)->magnitude_db(grid_);
            for (std::size_t i = 0; i < level.size(); ++i) {
                locked_db_[i] += level[i];
            }
        }
    }
    const double total = std::accumulate(aim.weight.begin(), aim.weight.end(), 0.0);
    for (const double weight : aim.weight) {
        error_scale_.push_back(std::sqrt(weight / total));
    }
    for (const double place_hz : aim.hz) {
        boost_limit_db_.push_back(boost_limit_at(spec, place_hz));
    }
}

std::vector<double> JointSections::gains(std::span<const SectionNumbers> sections) const {
    std::vector<double> level = locked_db_;
    for (const SectionNumbers& section : sections) {
        add_levels(section, grid_, level);
    }
    return level;
}

std::vector<double> JointSections::left_over(std::span<const SectionNumbers> sections) const {
    const std::vector<double> level = gains(sections);
    std::vector<double> left = aim_.gain_db;
    for (std::size_t i = 0; i < left.size(); ++i) {
        left[i] -= level[first_ + i];
    }
    return left;
}

namespace {

// By how much a value is beyond a range, with its sign.
double beyond(double value, double least, double greatest) {
    return value > greatest ? value - greatest : value < least ? value - least : 0;
}

} // namespace

double JointSections::worst_outside_db(std::span<const SectionNumbers> sections) const {
    const std::vector<double> level = gains(sections);
    double worst = 0;
    for (const Outside& at : outside_) {
        const double allowed = at.share * level[at.edge];
        worst = std::max(worst, std::abs(beyond(level[at.place], std::min(allowed, 0.0),
                                                std::max(allowed, 0.0))));
    }
    return worst;
}

double JointSections::worst_over_limit_db(std::span<const SectionNumbers> sections) const {
    const std::vector<double> level = gains(sections);
    double worst = 0;
    for (std::size_t i = 0; i < aim_.size(); ++i) {
        worst = std::max(
            worst, std::abs(beyond(level[first_ + i], -spec_.cut_limit_db, boost_limit_db_[i])));
    }
    return worst;
}

std::size_t JointSections::error_count() const {
    return aim_.size() + outside_.size();
}

// The aim lies within the limits, so what is beyond one is an error of the same sign: dearer there.
template <class Take>
void JointSections::each_row(std::span<const double> gain_db, Take take) const {
    const double dear = std::sqrt(dearness_ / static_cast<double>(aim_.size()));
    for (std::size_t i = 0; i < aim_.size(); ++i) {
        const std::size_t place = first_ + i;
        const double over = beyond(gain_db[place], -spec_.cut_limit_db + limit_margin_db,
                                   boost_limit_db_[i] - limit_margin_db);
        const double scale = error_scale_[i], more = over != 0 ? dear_limit * dear : 0;
        take(Row{scale * (gain_db[place] - aim_.gain_db[i]) + more * over, scale + more, place, 0,
                 place});
    }
    for (const Outside& at : outside_) {
        const double allowed = at.share * gain_db[at.edge];
        const double over =
            beyond(gain_db[at.place], std::min(allowed, 0.0), std::max(allowed, 0.0));
        const bool by_edge = (over > 0) == (allowed > 0);
        const double scale = over != 0 ? dear_outside * dear : 0;
        take(Row{scale * over, scale, at.place, by_edge ? at.share : 0, at.edge});
    }
}

void JointSections::errors(std::span<const double> gain_db, std::span<double> errors) const {
    std::size_t row = 0;
    each_row(gain_db, [&](const Row& r) { errors[row++] = r.error; });
}

void JointSections::error_slopes(std::span<const double> gain_db,
                                 std::span<const double> gain_slopes, double* error_slopes) const {
    const std::size_t places = grid_.size(), numbers = gain_slopes.size() / places;
    std::vector<Row> rows;
    rows.reserve(error_count());
    each_row(gain_db, [&](const Row& r) { rows.push_back(r); });
    for (std::size_t k = 0; k < numbers; ++k) {
        const std::span<const double> by = gain_slopes.subspan(k * places, places);
        for (std::size_t r = 0; r < rows.size(); ++r) {
            const Row& row = rows[r];
            error_slopes[r * numbers + k] = row.scale * (by[row.place] - row.share * by[row.other]);
        }
    }
}

double JointSections::cost(std::span<const SectionNumbers> sections) const {
    std::vector<double> all(error_count());
    errors(gains(sections), all);
    return std::inner_product(all.begin(), all.end(), all.begin(), 0.0);
}

JointSections::Bounds JointSections::bounds_of(const SectionNumbers& section,
                                               std::size_t number) const {
    if (number == 0) {
        return {std::log2(spec_.from_hz), std::log2(spec_.to_hz)};
    }
    if (number == 1 && section.shape == ParametricShape::all_pass) {
        return {0, 0};
    }
    if (number == 1) {
        return {-method_.section_cut_limit_db, method_.section_boost_limit_db};
    }
    if (section.shape == ParametricShape::all_pass) {
        return {std::log2(least_all_pass_q), std::log2(greatest_all_pass_q)};
    }
    const double limit = q_limit_at(method_, std::exp2(section.log2_hz));
    const bool is_peak = section.shape == ParametricShape::peak;
    const double least = std::min(least_section_q, limit);
    return {std::log2(least), std::log2(is_peak ? limit : std::min(limit, greatest_shelf_q))};
}

void JointSections::keep_within(SectionNumbers& section) const {
    constexpr std::array members = {&SectionNumbers::log2_hz, &SectionNumbers::gain_db,
                                    &SectionNumbers::log2_q};
    for (std::size_t number = 0; number < members.size(); ++number) {
        const Bounds bounds = bounds_of(section, number);
        double& value = section.*members[number];
        value = std::clamp(value, bounds.least, bounds.greatest);
    }
}

} // namespace syntonon
