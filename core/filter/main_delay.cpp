// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/filter/main_delay.h"

#include "core/filter/form.h"

#include <numeric>

namespace syntonon {
namespace {

struct MainDelay {
    double operator()(const Taps& taps) const { return static_cast<double>(taps.main_sample()); }
    double operator()(const Series& row) const {
        return std::accumulate(
            row.parts.begin(), row.parts.end(), 0.0,
            [](double sum, const Filter& part) { return sum + main_delay_samples(part); });
    }
    double operator()(const Repeated& repeated) const {
        return static_cast<double>(repeated.count) * main_delay_samples(repeated.filter);
    }
    double operator()(const Computed& computed) const {
        return main_delay_samples(computed.linear);
    }
    template <class Form>
    double operator()(const Form& form) const {
        return latency_samples(form);
    }
};

} // namespace

double main_delay_samples(const Filter& filter) {
    return std::visit(MainDelay(), static_cast<const AnyForm::variant&>(filter.form()));
}

} // namespace syntonon
