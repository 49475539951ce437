// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/word/section_in_words.h"

#include "core/word/fixed_program.h"

#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

// The signals of a network in one row: the input, the states, the sums.
std::size_t place_in_row(const NetworkSignal& signal, const Network& network) {
    const auto index = static_cast<std::size_t>(signal.index);
    switch (signal.from) {
    case NetworkSignal::From::input:
        return 0;
    case NetworkSignal::From::state:
        return 1 + index;
    case NetworkSignal::From::sum:
        break;
    }
    return 1 + network.next.size() + index;
}

std::vector<std::size_t> places_of_next(const Network& network) {
    std::vector<std::size_t> places;
    for (const NetworkSignal& signal : network.next) {
        places.push_back(place_in_row(signal, network));
    }
    return places;
}

double to_float(double value, bool is_short) {
    return is_short ? static_cast<double>(static_cast<float>(value)) : value;
}

std::variant<FixedSection, FloatingSection>
made(Structure structure, const StructuredSection& section, const Arithmetic& how) {
    const Network& network = network_of(structure, section.real_poles);
    if (how.is_fixed()) {
        return FixedSection(network, section.values, how);
    }
    return FloatingSection(network, section.values, how);
}

} // namespace

FixedSection::FixedSection(const Network& network, std::span<const double> values,
                           const Arithmetic& how)
    : how_(how), into_(std::ldexp(1.0, how.data.fraction_bits)),
      out_of_(std::ldexp(1.0, -how.data.fraction_bits)), next_(places_of_next(network)),
      output_(1 + network.next.size() + static_cast<std::size_t>(network.output)) {
    const FixedProgram program = fixed_program(network, how);
    const int of_coefficients = coefficient_values(how).fraction_bits;
    to_state_ = program.to_state;
    to_data_ = program.to_data;
    for (const std::vector<FixedProduct>& products : program.sums) {
        Sum sum{{}, network.feeds_error_back && static_cast<int>(sums_.size()) == network.output};
        for (const auto& [p, places] : products) {
            const double factor =
                p.coefficient >= 0
                    ? std::ldexp(values[static_cast<std::size_t>(p.coefficient)], of_coefficients)
                    : (p.doubled ? 2 : 1);
            sum.products.push_back({std::llround(p.subtracted ? -factor : factor),
                                    place_in_row(p.signal, network), places});
        }
        sums_.push_back(std::move(sum));
    }
    signals_.resize(1 + network.next.size() + network.sums.size());
    after_.resize(network.next.size());
}

std::int64_t FixedSection::sum_up(const Sum& sum) noexcept {
    bool overflows = false;
    Wide total = sum.feeds_error_back ? error_ : 0;
    for (const Product& p : sum.products) {
        total += shifted(Wide{p.factor} * signals_[p.signal], p.places, how_.rounding);
        if (how_.accumulator_overflow == Overflow::saturate) {
            total = held(total, how_.accumulator.bits(), Overflow::saturate, overflows);
        }
    }
    total = held(total, how_.accumulator.bits(), how_.accumulator_overflow, overflows);
    const Wide rounded = shifted(total, to_state_, how_.rounding);
    if (sum.feeds_error_back) {
        error_ = static_cast<std::int64_t>(total - (rounded << to_state_));
    }
    const Wide kept = held(rounded, how_.state.bits(), how_.overflow, overflows);
    overflows_ += overflows;
    return static_cast<std::int64_t>(kept);
}

double FixedSection::step(double x) noexcept {
    signals_[0] = static_cast<std::int64_t>(x * into_);
    std::size_t place = 1 + next_.size();
    for (const Sum& sum : sums_) {
        signals_[place++] = sum_up(sum);
    }
    bool overflows = false;
    const Wide out = held(shifted(signals_[output_], to_data_, how_.rounding), how_.data.bits(),
                          how_.overflow, overflows);
    overflows_ += overflows;
    for (std::size_t i = 0; i < next_.size(); ++i) {
        after_[i] = signals_[next_[i]];
    }
    std::ranges::copy(after_, signals_.begin() + 1);
    return static_cast<double>(static_cast<std::int64_t>(out)) * out_of_;
}

void FixedSection::reset() noexcept {
    std::ranges::fill(signals_, 0);
    error_ = 0;
}

FloatingSection::FloatingSection(const Network& network, std::span<const double> values,
                                 const Arithmetic& how)
    : next_(places_of_next(network)),
      output_(1 + network.next.size() + static_cast<std::size_t>(network.output)),
      short_sum_(how.accumulator.kind == WordKind::float32),
      short_state_(how.state.kind == WordKind::float32),
      short_data_(how.data.kind == WordKind::float32) {
    for (const NetworkSum& sum : network.sums) {
        std::vector<Product> products;
        for (const NetworkProduct& p : sum.products) {
            const double value = p.coefficient >= 0
                                     ? values[static_cast<std::size_t>(p.coefficient)]
                                     : (p.doubled ? 2 : 1);
            products.push_back({p.subtracted ? -value : value, place_in_row(p.signal, network),
                                p.coefficient < 0});
        }
        sums_.push_back(std::move(products));
    }
    signals_.resize(1 + network.next.size() + network.sums.size());
    after_.resize(network.next.size());
}

// A product of two float32 is exact in a double, and a sum of two rounded to float32 from a double
// is the float32's own (S. A. Figueroa, When is double rounding innocuous?, SIGNUM Newsletter 30,
// 1995).
double FloatingSection::step(double x) noexcept {
    signals_[0] = x;
    std::size_t place = 1 + next_.size();
    for (const std::vector<Product>& products : sums_) {
        double total = 0;
        bool is_first = true;
        for (const Product& p : products) {
            const double product = to_float(p.factor * signals_[p.signal], short_sum_);
            total = is_first ? product : to_float(total + product, short_sum_);
            is_first = false;
        }
        signals_[place++] = to_float(total, short_state_);
    }
    const double out = to_float(signals_[output_], short_data_);
    for (std::size_t i = 0; i < next_.size(); ++i) {
        after_[i] = signals_[next_[i]];
    }
    std::ranges::copy(after_, signals_.begin() + 1);
    return out;
}

void FloatingSection::reset() noexcept {
    std::ranges::fill(signals_, 0);
}

SectionInWords::SectionInWords(Structure structure, const StructuredSection& section,
                               const Arithmetic& how)
    : section_(made(structure, section, how)) {}

std::int64_t SectionInWords::overflows() const {
    const auto* fixed = std::get_if<FixedSection>(&section_);
    return fixed != nullptr ? fixed->overflows() : 0;
}

} // namespace syntonon
