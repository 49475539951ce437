// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/filter/analog_cascade.h"

#include "core/base/units.h"
#include "core/filter/form.h"
#include "core/math/complex_parts.h"

#include <algorithm>
#include <cmath>
#include <limits>

namespace syntonon {
namespace {

using Complex = std::complex<double>;

constexpr double a_rounding = 4e-16;

// c2 s^2 + c1 s + c0 at s = jw, and its derivative by w.
struct OnAxis {
    double re, im, re_slope, im_slope;
    double rounding; // how far the value may be off

    OnAxis(double c2, double c1, double c0, double w)
        : re(c0 - c2 * w * w), im(c1 * w), re_slope(-2 * c2 * w), im_slope(c1),
          rounding(a_rounding * (std::abs(c0) + std::abs(c2) * w * w + std::abs(im))) {}

    Complex value() const { return {re, im}; }
    Complex slope() const { return {re_slope, im_slope}; }
    bool vanishes() const { return std::hypot(re, im) <= rounding; }
    // d arg / dw
    double turn() const { return (re * im_slope - im * re_slope) / (re * re + im * im); }
    // In [0, pi] or [-pi, 0]; at a zero of the polynomial the limit from above.
    double argument() const {
        return vanishes() ? std::atan2(im_slope, re_slope) : std::atan2(im, re);
    }
};

struct SectionOnAxis {
    OnAxis numerator, denominator;

    SectionOnAxis(const AnalogSection& s, double w)
        : numerator(s.b2, s.b1, s.b0, w), denominator(s.a2, s.a1, s.a0, w) {}

    // By rad/s.
    FilterValue value() const {
        const Complex over = inverse_of(denominator.value());
        const Complex h = times(numerator.value(), over);
        const Complex slope = times(numerator.slope() - times(h, denominator.slope()), over);
        return {h, slope, (numerator.rounding + size_of(h) * denominator.rounding) * size_of(over)};
    }
    double group_delay_s() const {
        return numerator.vanishes() ? std::numeric_limits<double>::quiet_NaN()
                                    : denominator.turn() - numerator.turn();
    }
    double phase_rad() const { return numerator.argument() - denominator.argument(); }
    double level_db() const {
        return numerator.vanishes() ? -std::numeric_limits<double>::infinity()
                                    : db_from_ratio(std::hypot(numerator.re, numerator.im)
                                                    / std::hypot(denominator.re, denominator.im));
    }
};

ResponsePoint point_of(const AnalogCascade& cascade, double hz, double sample_rate_hz) {
    const double w = rad_per_s_from_hz(hz);
    ResponsePoint all;
    for (const AnalogSection& section : cascade.sections) {
        const SectionOnAxis at(section, w);
        all.magnitude_db += at.level_db();
        all.phase_rad += at.phase_rad();
        all.group_delay_samples += at.group_delay_s() * sample_rate_hz;
    }
    return all;
}

class AnalogProber : public Prober {
public:
    explicit AnalogProber(const AnalogCascade& cascade) : cascade_(cascade) {}

    FilterValue value(const CirclePoint& at) const override {
        const double w = rad_per_s_from_hz(at.hz);
        FilterValue all{1, 0, 0};
        for (const AnalogSection& section : cascade_.sections) {
            const FilterValue one = SectionOnAxis(section, w).value();
            all = {times(all.h, one.h), times(all.slope, one.h) + times(all.h, one.slope),
                   all.floor * size_of(one.h) + size_of(all.h) * one.floor};
        }
        all.slope *= at.axis.sample_rate_hz;
        return all;
    }
    double level_db(const CirclePoint& at) const override {
        return point_of(cascade_, at.hz, at.axis.sample_rate_hz).magnitude_db;
    }
    double group_delay_samples(const CirclePoint& at) const override {
        return point_of(cascade_, at.hz, at.axis.sample_rate_hz).group_delay_samples;
    }
    ResponsePoint response(const CirclePoint& at) const override {
        return point_of(cascade_, at.hz, at.axis.sample_rate_hz);
    }

private:
    AnalogCascade cascade_;
};

// Of c2 s^2 + c1 s + c0; roots at the origin count. Returns the leading coefficient.
double take_roots(double c2, double c1, double c0, std::vector<Complex>& roots) {
    const auto found = quadratic_roots(c2, c1, c0);
    roots.insert(roots.end(), found.begin(), found.end());
    return c2 != 0 ? c2 : c1 != 0 ? c1 : c0;
}

// By powers of z, highest first, of c2 s^2 + c1 s + c0 times (z + 1)^2.
std::array<double, 3> image_of(double c2, double c1, double c0, double c) {
    const double square = c2 * c * c, line = c1 * c;
    return {square + line + c0, 2 * (c0 - square), square - line + c0};
}

struct ImageOf {
    double c;

    Filter operator()(const AnalogCascade& cascade) const {
        Cascade image;
        for (const AnalogSection& s : cascade.sections) {
            auto b = image_of(s.b2, s.b1, s.b0, c), a = image_of(s.a2, s.a1, s.a0, c);
            if (order_of(s) < 2) { // (z + 1) stands over and under: once is enough
                const auto without = [](std::array<double, 3> q) {
                    return std::array<double, 3>{q[0], q[2], 0};
                };
                b = without(b);
                a = without(a);
            }
            image.sections.push_back(
                {b[0] / a[0], b[1] / a[0], b[2] / a[0], a[1] / a[0], a[2] / a[0]});
        }
        return image;
    }
    Filter operator()(const Series& chain) const {
        std::vector<Filter> parts;
        for (const Filter& part : chain.parts) {
            parts.push_back(bilinear_image(part, c));
        }
        return series(parts);
    }
    Filter operator()(const ParallelSum& sum) const {
        ParallelSum image = sum;
        for (auto& branch : image.branches) {
            branch.filter = bilinear_image(branch.filter, c);
        }
        return image;
    }
    Filter operator()(const Loop& loop) const {
        return Loop{bilinear_image(loop.forward, c), loop.factor, bilinear_image(loop.feedback, c)};
    }
    Filter operator()(const Repeated& repeated) const {
        return Repeated{bilinear_image(repeated.filter, c), repeated.count};
    }
    template <class Leaf>
    Filter operator()(const Leaf& leaf) const {
        return leaf;
    }
};

} // namespace

int order_of(const AnalogSection& section) {
    return section.a2 != 0 ? 2 : section.a1 != 0 ? 1 : 0;
}

double direct_gain(const AnalogSection& s) {
    switch (order_of(s)) {
    case 2:
        return s.b2 / s.a2;
    case 1:
        return s.b1 / s.a1;
    default:
        return s.b0 / s.a0;
    }
}

Response response(const AnalogCascade& cascade, const FrequencyGrid& grid) {
    Response all(grid.size());
    for (std::size_t i = 0; i < grid.size(); ++i) {
        const ResponsePoint at = point_of(cascade, grid.frequency_hz()[i], grid.sample_rate_hz());
        all.magnitude_db[i] = at.magnitude_db;
        all.phase_rad[i] = at.phase_rad;
        all.group_delay_samples[i] = at.group_delay_samples;
    }
    return all;
}

std::shared_ptr<const Prober> prober(const AnalogCascade& cascade) {
    return std::make_shared<AnalogProber>(cascade);
}

Roots roots_of(const AnalogCascade& cascade) {
    Roots all;
    all.domain = Domain::analog;
    for (const AnalogSection& s : cascade.sections) {
        const double above = take_roots(s.b2, s.b1, s.b0, all.zeros);
        all.gain *= above / take_roots(s.a2, s.a1, s.a0, all.poles);
    }
    return all;
}

void run(const AnalogCascade&, std::span<double> signal) {
    std::ranges::fill(signal, 0.0);
}

Cost cost(const AnalogCascade& cascade) {
    Cost cost;
    cost.sections = static_cast<int>(cascade.sections.size());
    return cost;
}

std::size_t bytes_of(const AnalogCascade& cascade) {
    return cascade.sections.size() * sizeof(AnalogSection);
}

Filter bilinear_image(const Filter& analog, double c_rad_per_s) {
    return std::visit(ImageOf{c_rad_per_s}, static_cast<const AnyForm::variant&>(analog.form()));
}

} // namespace syntonon
