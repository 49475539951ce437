// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/filter/cascade.h"

#include "core/base/units.h"
#include "core/filter/beside_pole.h"
#include "core/math/complex_parts.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>

// Built for AVX2 as well and chosen at start; without FMA, so both give the same bits.
// Sanitizers are not yet awake where the choice is made.
#if defined(__x86_64__) && defined(__GNUC__) && !defined(__clang__)                                \
    && !defined(__SANITIZE_ADDRESS__) && !defined(__SANITIZE_THREAD__)
#define SYNTONON_VECTOR_CLONES __attribute__((target_clones("avx2", "default")))
#else
#define SYNTONON_VECTOR_CLONES
#endif

namespace syntonon {
namespace {

constexpr std::size_t block = 256; // points at a time: the running products stay in cache
constexpr std::size_t sections_a_quotient = 8; // a section's value is at least 1e-17: no underflow

using Block = std::array<double, block>;

struct SectionOnCircle {
    CircleQuadratic numerator, denominator;
};

// The real part of a CircleQuadratic in one half of the frequencies: base + turn x, where x is
// sin^2(w/2) in the lower half and cos^2(w/2) in the upper.
struct Half {
    bool upper;
    double base(const CircleQuadratic& q) const { return upper ? q.half_rate : q.dc; }
    double turn(const CircleQuadratic& q) const { return upper ? q.slope : -q.slope; }
};

struct Line {
    double base, turn, skew;
};
struct SectionLines {
    Line numerator, denominator;
};
Line line(const CircleQuadratic& q, Half half) {
    return {half.base(q), half.turn(q), q.skew};
}
SectionLines lines(const SectionOnCircle& section, Half half) {
    return {line(section.numerator, half), line(section.denominator, half)};
}

// A part of a grid that lies in one half.
struct Part {
    Half half;
    std::size_t start, count;
    const double *x, *sine, *cosine;
};
std::vector<Part> parts_of(const FrequencyGrid& grid, std::size_t most) {
    std::vector<Part> parts;
    const std::size_t middle = grid.upper_half();
    for (std::size_t start = 0; start < grid.size();) {
        const Half half{start >= middle};
        const std::size_t end = half.upper ? grid.size() : middle;
        const std::size_t count = std::min(most, end - start);
        const auto x = half.upper ? grid.half_cosine_squared() : grid.half_sine_squared();
        parts.push_back({half, start, count, x.data() + start, grid.sine().data() + start,
                         grid.cosine().data() + start});
        start += count;
    }
    return parts;
}

// num *= numerator, den *= denominator for two sections at each of `count` points.
// Two sections a pass halve the traffic of the running products.
SYNTONON_VECTOR_CLONES
void multiply_pair(const SectionLines& first, const SectionLines& second, std::size_t count,
                   const double* __restrict x, const double* __restrict s,
                   double* __restrict num_re, double* __restrict num_im, double* __restrict den_re,
                   double* __restrict den_im) {
    const Line n1 = first.numerator, d1 = first.denominator;
    const Line n2 = second.numerator, d2 = second.denominator;
    for (std::size_t i = 0; i < count; ++i) {
        const double n1_re = n1.base + n1.turn * x[i], n1_im = n1.skew * s[i];
        const double n2_re = n2.base + n2.turn * x[i], n2_im = n2.skew * s[i];
        const double n_re = n1_re * n2_re - n1_im * n2_im;
        const double n_im = n1_re * n2_im + n1_im * n2_re;
        const double d1_re = d1.base + d1.turn * x[i], d1_im = d1.skew * s[i];
        const double d2_re = d2.base + d2.turn * x[i], d2_im = d2.skew * s[i];
        const double d_re = d1_re * d2_re - d1_im * d2_im;
        const double d_im = d1_re * d2_im + d1_im * d2_re;
        const double a_re = num_re[i], a_im = num_im[i];
        num_re[i] = a_re * n_re - a_im * n_im;
        num_im[i] = a_re * n_im + a_im * n_re;
        const double b_re = den_re[i], b_im = den_im[i];
        den_re[i] = b_re * d_re - b_im * d_im;
        den_im[i] = b_re * d_im + b_im * d_re;
    }
}

// total *= num / den
SYNTONON_VECTOR_CLONES
void multiply_quotient(std::size_t count, const double* __restrict num_re,
                       const double* __restrict num_im, const double* __restrict den_re,
                       const double* __restrict den_im, double* __restrict re,
                       double* __restrict im) {
    for (std::size_t i = 0; i < count; ++i) {
        const double scale = 1.0 / (den_re[i] * den_re[i] + den_im[i] * den_im[i]);
        const double q_re = (num_re[i] * den_re[i] + num_im[i] * den_im[i]) * scale;
        const double q_im = (num_im[i] * den_re[i] - num_re[i] * den_im[i]) * scale;
        const double t_re = re[i], t_im = im[i];
        re[i] = t_re * q_re - t_im * q_im;
        im[i] = t_re * q_im + t_im * q_re;
    }
}

// delay -= sign * d(angle)/dw of one quadratic; 0/0 = NaN where it vanishes.
SYNTONON_VECTOR_CLONES
void add_delay(const CircleQuadratic& q, Half half, double sign, std::size_t count,
               const double* __restrict x, const double* __restrict s, const double* __restrict c,
               double* __restrict delay) {
    const double base = half.base(q), turn = half.turn(q), slope = q.slope, skew = sign * q.skew;
    for (std::size_t i = 0; i < count; ++i) {
        const double re = base + turn * x[i];
        const double sine_part = q.skew * s[i];
        const double turning = skew * (c[i] * re + slope * s[i] * s[i] / 2);
        delay[i] -= turning / (re * re + sine_part * sine_part);
    }
}

std::vector<SectionOnCircle> on_circle(const Cascade& cascade) {
    std::vector<SectionOnCircle> terms;
    terms.reserve(cascade.sections.size() + 1);
    for (const Biquad& section : cascade.sections) {
        terms.push_back({numerator_on_circle(section), denominator_on_circle(section)});
    }
    if (terms.size() % 2 != 0) {
        terms.push_back({{1, 0, 0, 1}, {1, 0, 0, 1}}); // 1, for the kernel that takes pairs
    }
    return terms;
}

double real_part(const CircleQuadratic& q, const CirclePoint& at) {
    const Half half{at.half_sine_squared > 0.5};
    const double base = half.base(q);
    const double turned =
        half.turn(q) * (half.upper ? at.half_cosine_squared : at.half_sine_squared);
    // What rounding, the frequency's too, leaves of a zero has no sign of its own.
    constexpr double rounding = 2e-15;
    const double sum = base + turned;
    return std::abs(sum) > rounding * std::abs(base) ? sum : 0;
}

double power_on_circle(const CircleQuadratic& q, const CirclePoint& at) {
    const double re = real_part(q, at), im = q.skew * at.sine;
    return re * re + im * im;
}

// The angle of one quadratic, between 0 and pi or 0 and -pi as its skew says.
double angle_of(const CircleQuadratic& q, const CirclePoint& at, Side side) {
    const double re = real_part(q, at), im = q.skew * at.sine;
    if (re != 0 || im != 0) {
        // At the ends, where im is a zero, its sign is that of skew, so the angle ends on the side
        // it came from.
        return std::atan2(im, re);
    }
    // At a zero: the direction in which the value leaves it, by the first derivative that is there.
    // d/dw of sin^2(w/2) is sin(w)/2.
    const bool backwards = at.hz > 0 && (side == Side::below || at.is_end());
    const double re_slope = -q.slope * at.sine / 2, im_slope = q.skew * at.cosine;
    if (re_slope != 0 || im_slope != 0) {
        return backwards ? std::atan2(-im_slope, -re_slope) : std::atan2(im_slope, re_slope);
    }
    return std::atan2(0.0, -q.slope * at.cosine);
}

// d(angle)/dw; NaN at a zero.
double angle_slope(const CircleQuadratic& q, const CirclePoint& at) {
    const double re = real_part(q, at), im = q.skew * at.sine;
    const double re_slope = -q.slope * at.sine / 2, im_slope = q.skew * at.cosine;
    const double power = re * re + im * im;
    return power > 0 ? (im_slope * re - im * re_slope) / power
                     : std::numeric_limits<double>::quiet_NaN();
}

// A product of powers that is turned into dB before it can leave the range of a double.
class PowerProduct {
public:
    void multiply(double power) {
        product_ *= power;
        if (product_ < 1e-200 || product_ > 1e200) {
            db_ += db_from_power(product_);
            product_ = 1;
        }
    }
    double db() const { return db_ + db_from_power(product_); }

private:
    double product_ = 1, db_ = 0;
};

// Of the first term of its Taylor series in w that is there: order 0 but at a zero.
struct Leading {
    double power;
    int order;
};
Leading leading_of(const CircleQuadratic& q, const CirclePoint& at) {
    if (const double power = power_on_circle(q, at); power > 0) {
        return {power, 0};
    }
    const std::array terms = {
        std::complex<double>(-q.slope * at.sine / 2, q.skew * at.cosine),
        std::complex<double>(-q.slope * at.cosine / 4, -q.skew * at.sine / 2)};
    for (std::size_t k = 0; k < terms.size(); ++k) {
        if (const double power = std::norm(terms[k]); power > 0) {
            return {power, static_cast<int>(k) + 1};
        }
    }
    return {0, 0}; // q is nothing
}

// Where zeros meet as many poles: what it is beside them.
double level_of(const std::vector<SectionOnCircle>& terms, const CirclePoint& at) {
    constexpr double infinity = std::numeric_limits<double>::infinity();
    PowerProduct power;
    int order = 0;
    for (const SectionOnCircle& section : terms) {
        const Leading numerator = leading_of(section.numerator, at),
                      denominator = leading_of(section.denominator, at);
        if (numerator.power == 0) {
            return -infinity;
        }
        power.multiply(numerator.power / denominator.power);
        order += numerator.order - denominator.order;
    }
    return order > 0 ? -infinity : order < 0 ? infinity : power.db();
}

double phase_of(const std::vector<SectionOnCircle>& terms, const CirclePoint& at, Side side) {
    double phase = 0;
    for (const SectionOnCircle& section : terms) {
        phase += angle_of(section.numerator, at, side) - angle_of(section.denominator, at, side);
    }
    return phase;
}

double delay_of(const std::vector<SectionOnCircle>& terms, const CirclePoint& at) {
    double delay = 0;
    for (const SectionOnCircle& section : terms) {
        delay += angle_slope(section.denominator, at) - angle_slope(section.numerator, at);
    }
    return delay;
}

struct Product {
    std::complex<double> value, slope;
    void multiply(std::complex<double> factor, std::complex<double> factor_slope) {
        slope = times(slope, factor) + times(value, factor_slope);
        value = times(value, factor);
    }
};

FilterValue value_of(const std::vector<SectionOnCircle>& terms, const CirclePoint& at) {
    const auto here = [&](const CircleQuadratic& q) {
        return std::complex<double>(real_part(q, at), q.skew * at.sine);
    };
    const auto slope = [&](const CircleQuadratic& q) {
        return std::complex<double>(-q.slope * at.sine / 2, q.skew * at.cosine);
    };
    constexpr double floor = 1e-16; // of a denominator whose a0 is 1
    Product all{1, 0};
    for (const SectionOnCircle& section : terms) {
        const std::complex<double> d = here(section.denominator);
        const std::complex<double> over =
            inverse_of(d == 0.0 ? beside_pole(slope(section.denominator), floor) : d);
        all.multiply(here(section.numerator), slope(section.numerator));
        all.multiply(over, times(-slope(section.denominator), times(over, over)));
    }
    return {all.value, all.slope, 0};
}

class CascadeProber : public Prober {
public:
    explicit CascadeProber(std::vector<SectionOnCircle> terms) : terms_(std::move(terms)) {}

    FilterValue value(const CirclePoint& at) const override { return value_of(terms_, at); }
    double level_db(const CirclePoint& at) const override { return level_of(terms_, at); }
    double phase_rad(const CirclePoint& at, Side side) const override {
        return phase_of(terms_, at, side);
    }
    double group_delay_samples(const CirclePoint& at) const override {
        return delay_of(terms_, at);
    }

private:
    std::vector<SectionOnCircle> terms_;
};

// Several sections a pass: each waits for its own last output, but not for the others', so they
// run side by side in the processor.
constexpr std::size_t sections_a_pass = 4;

void run_sections(std::span<const Biquad> sections, std::span<double> signal) {
    // Between them what has died away is put to 0: numbers too small for the processor's normal
    // form would make it many times slower.
    constexpr std::size_t samples_a_stretch = 256;
    constexpr double died_away = 1e-100;
    std::array<Biquad, sections_a_pass> c{}; // a Biquad by default is a wire
    std::ranges::copy(sections, c.begin());
    std::array<double, sections_a_pass> first{}, second{}; // direct form II transposed
    for (std::size_t start = 0; start < signal.size(); start += samples_a_stretch) {
        const std::size_t end = std::min(start + samples_a_stretch, signal.size());
        for (std::size_t n = start; n < end; ++n) {
            double x = signal[n];
            for (std::size_t k = 0; k < sections_a_pass; ++k) {
                const double y = c[k].b0 * x + first[k];
                first[k] = c[k].b1 * x - c[k].a1 * y + second[k];
                second[k] = c[k].b2 * x - c[k].a2 * y;
                x = y;
            }
            signal[n] = x;
        }
        for (std::size_t k = 0; k < sections_a_pass; ++k) {
            if (std::abs(first[k]) < died_away && std::abs(second[k]) < died_away) {
                first[k] = second[k] = 0;
            }
        }
    }
}

} // namespace

void complex_response(const Cascade& cascade, const FrequencyGrid& grid, std::span<double> re,
                      std::span<double> im) {
    const std::vector<SectionOnCircle> terms = on_circle(cascade);
    std::ranges::fill(re, 1.0);
    std::ranges::fill(im, 0.0);
    Block num_re, num_im, den_re, den_im;
    for (const Part& part : parts_of(grid, block)) {
        for (std::size_t first = 0; first < terms.size(); first += sections_a_quotient) {
            const std::size_t last = std::min(first + sections_a_quotient, terms.size());
            num_re.fill(1), num_im.fill(0), den_re.fill(1), den_im.fill(0);
            for (std::size_t k = first; k < last; k += 2) {
                multiply_pair(lines(terms[k], part.half), lines(terms[k + 1], part.half),
                              part.count, part.x, part.sine, num_re.data(), num_im.data(),
                              den_re.data(), den_im.data());
            }
            multiply_quotient(part.count, num_re.data(), num_im.data(), den_re.data(),
                              den_im.data(), re.data() + part.start, im.data() + part.start);
        }
    }
}

namespace {

// Adds what `made` makes of (re, im) of every few sections, of which the product cannot underflow.
template <class Make>
std::vector<double> sum_over_parts(const Cascade& cascade, const FrequencyGrid& grid, Make made) {
    constexpr std::size_t at_a_time = 16;
    std::vector<double> sum(grid.size(), 0.0), re(grid.size()), im(grid.size());
    for (std::size_t first = 0; first < cascade.sections.size(); first += at_a_time) {
        const auto start = cascade.sections.begin() + static_cast<std::ptrdiff_t>(first);
        const std::size_t count = std::min(at_a_time, cascade.sections.size() - first);
        complex_response(Cascade{{start, start + static_cast<std::ptrdiff_t>(count)}}, grid, re,
                         im);
        for (std::size_t i = 0; i < re.size(); ++i) {
            sum[i] += made(re[i], im[i]);
        }
    }
    return sum;
}

} // namespace

std::vector<double> magnitude_db(const Cascade& cascade, const FrequencyGrid& grid) {
    std::vector<double> level = sum_over_parts(
        cascade, grid, [](double re, double im) { return db_from_ratio(std::hypot(re, im)); });
    for (std::size_t i = 0; i < level.size(); ++i) {
        if (std::isnan(level[i])) { // a pole: a gap, but where zeros meet it
            const double beside = level_of(on_circle(cascade), grid.point(i));
            level[i] = beside < std::numeric_limits<double>::infinity() ? beside : level[i];
        }
    }
    return level;
}

std::vector<double> wrapped_phase_rad(const Cascade& cascade, const FrequencyGrid& grid) {
    constexpr double nowhere = std::numeric_limits<double>::quiet_NaN();
    std::vector<double> phase = sum_over_parts(cascade, grid, [](double re, double im) {
        return re != 0 || im != 0 ? std::atan2(im, re) : nowhere;
    });
    for (std::size_t i = 0; i < phase.size(); ++i) {
        if (std::isnan(phase[i])) {
            phase[i] = phase_of(on_circle(cascade), grid.point(i), Side::above);
        }
    }
    return phase;
}

std::vector<double> group_delay_samples(const Cascade& cascade, const FrequencyGrid& grid) {
    std::vector<double> delay(grid.size(), 0.0);
    const std::vector<Part> parts = parts_of(grid, grid.size());
    for (const SectionOnCircle& section : on_circle(cascade)) {
        for (const Part& part : parts) {
            const auto add = [&](const CircleQuadratic& q, double sign) {
                add_delay(q, part.half, sign, part.count, part.x, part.sine, part.cosine,
                          delay.data() + part.start);
            };
            add(section.numerator, 1);
            add(section.denominator, -1);
        }
    }
    return delay;
}

Response response(const Cascade& cascade, const FrequencyGrid& grid) {
    const std::vector<SectionOnCircle> terms = on_circle(cascade);
    Response all(grid.size());
    for (std::size_t i = 0; i < grid.size(); ++i) {
        const CirclePoint at = grid.point(i);
        all.magnitude_db[i] = level_of(terms, at);
        all.phase_rad[i] = phase_of(terms, at, Side::above);
        all.group_delay_samples[i] = delay_of(terms, at);
    }
    return all;
}

std::shared_ptr<const Prober> prober(const Cascade& cascade) {
    return std::make_shared<CascadeProber>(on_circle(cascade));
}

void run(const Cascade& cascade, std::span<double> signal) {
    for (std::size_t first = 0; first < cascade.sections.size(); first += sections_a_pass) {
        const std::size_t last = std::min(first + sections_a_pass, cascade.sections.size());
        run_sections(std::span(cascade.sections).subspan(first, last - first), signal);
    }
}

std::size_t bytes_of(const Cascade& cascade) {
    return cascade.sections.size() * (sizeof(Biquad) + 4 * sizeof(std::complex<double>));
}

Roots roots_of(const Cascade& cascade) {
    return roots_of(std::span<const Biquad>(cascade.sections));
}

double latency_samples(const Cascade& cascade) {
    double samples = 0;
    for (const Biquad& section : cascade.sections) {
        if (section.b0 == 0) {
            samples += section.b1 != 0 || section.b2 == 0 ? 1 : 2;
        }
    }
    return samples;
}

Cost cost(const Cascade& cascade) {
    Cost total;
    for (const Biquad& c : cascade.sections) {
        ++total.sections;
        const auto coefficients = {c.b0, c.b1, c.b2, c.a1, c.a2};
        for (const double coefficient : coefficients) {
            total.multiplies += coefficient != 0 && std::abs(coefficient) != 1 ? 1 : 0;
            total.adds += coefficient != 0 ? 1 : 0;
        }
        total.adds -= 1; // n terms make n - 1 additions
        total.state_words += c.b2 != 0 || c.a2 != 0 ? 2 : c.b1 != 0 || c.a1 != 0 ? 1 : 0;
    }
    return total;
}

} // namespace syntonon
