// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/filter/cascade.h"

#include "core/base/units.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <limits>

// Built for AVX2 as well and chosen at start; without FMA, so both give the same bits.
#if defined(__x86_64__) && defined(__GNUC__) && !defined(__clang__)                                \
    && !defined(__SANITIZE_ADDRESS__)
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

// num *= numerator, den *= denominator for two sections at each of `count` points.
// Two sections a pass halve the traffic of the running products.
SYNTONON_VECTOR_CLONES
void multiply_pair(const SectionOnCircle& first, const SectionOnCircle& second, std::size_t count,
                   const double* __restrict h, const double* __restrict s,
                   double* __restrict num_re, double* __restrict num_im, double* __restrict den_re,
                   double* __restrict den_im) {
    const CircleQuadratic n1 = first.numerator, d1 = first.denominator;
    const CircleQuadratic n2 = second.numerator, d2 = second.denominator;
    for (std::size_t i = 0; i < count; ++i) {
        const double n1_re = n1.dc - n1.slope * h[i], n1_im = n1.skew * s[i];
        const double n2_re = n2.dc - n2.slope * h[i], n2_im = n2.skew * s[i];
        const double n_re = n1_re * n2_re - n1_im * n2_im;
        const double n_im = n1_re * n2_im + n1_im * n2_re;
        const double d1_re = d1.dc - d1.slope * h[i], d1_im = d1.skew * s[i];
        const double d2_re = d2.dc - d2.slope * h[i], d2_im = d2.skew * s[i];
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

std::vector<SectionOnCircle> on_circle(const Cascade& cascade) {
    std::vector<SectionOnCircle> terms;
    terms.reserve(cascade.sections.size() + 1);
    for (const Biquad& section : cascade.sections) {
        terms.push_back({numerator_on_circle(section), denominator_on_circle(section)});
    }
    if (terms.size() % 2 != 0) {
        terms.push_back({{1, 0, 0}, {1, 0, 0}});
    }
    return terms;
}

// The angle of one quadratic and the derivative of that angle by w.
struct Angle {
    double rad;
    double slope;
};

Angle angle_of(const CircleQuadratic& q, double h, double sine, double cosine) {
    const double re = q.dc - q.slope * h;
    const double im = q.skew * sine;
    // d/dw of sin^2(w/2) is sin(w)/2.
    const double re_slope = -q.slope * sine / 2;
    const double im_slope = q.skew * cosine;
    // At 0 and pi, where im is a zero, its sign is that of skew, so the angle ends on the side it
    // came from.
    const double rad = std::atan2(im, re);
    const double power = re * re + im * im;
    return {rad, power > 0 ? (im_slope * re - im * re_slope) / power
                           : std::numeric_limits<double>::quiet_NaN()};
}

double power_of(const CircleQuadratic& q, double h, double sine) {
    const double re = q.dc - q.slope * h;
    const double im = q.skew * sine;
    return re * re + im * im;
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

ResponsePoint point(const std::vector<SectionOnCircle>& terms, double h, double sine,
                    double cosine) {
    ResponsePoint at;
    PowerProduct power;
    for (const SectionOnCircle& section : terms) {
        const Angle n = angle_of(section.numerator, h, sine, cosine);
        const Angle d = angle_of(section.denominator, h, sine, cosine);
        at.phase_rad += n.rad - d.rad;
        at.group_delay_samples += d.slope - n.slope;
        power.multiply(power_of(section.numerator, h, sine)
                       / power_of(section.denominator, h, sine));
    }
    at.magnitude_db = power.db();
    return at;
}

} // namespace

void complex_response(const Cascade& cascade, const FrequencyGrid& grid, std::span<double> re,
                      std::span<double> im) {
    const std::vector<SectionOnCircle> terms = on_circle(cascade);
    std::ranges::fill(re, 1.0);
    std::ranges::fill(im, 0.0);
    Block num_re, num_im, den_re, den_im;
    for (std::size_t start = 0; start < grid.size(); start += block) {
        const std::size_t count = std::min(block, grid.size() - start);
        const double* h = grid.half_sine_squared().data() + start;
        const double* s = grid.sine().data() + start;
        for (std::size_t first = 0; first < terms.size(); first += sections_a_quotient) {
            const std::size_t last = std::min(first + sections_a_quotient, terms.size());
            num_re.fill(1), num_im.fill(0), den_re.fill(1), den_im.fill(0);
            for (std::size_t k = first; k < last; k += 2) {
                multiply_pair(terms[k], terms[k + 1], count, h, s, num_re.data(), num_im.data(),
                              den_re.data(), den_im.data());
            }
            multiply_quotient(count, num_re.data(), num_im.data(), den_re.data(), den_im.data(),
                              re.data() + start, im.data() + start);
        }
    }
}

std::vector<double> magnitude_db(const Cascade& cascade, const FrequencyGrid& grid) {
    constexpr std::size_t at_a_time = 16; // of which the product cannot underflow
    std::vector<double> level(grid.size(), 0.0), re(grid.size()), im(grid.size());
    for (std::size_t first = 0; first < cascade.sections.size(); first += at_a_time) {
        const auto start = cascade.sections.begin() + static_cast<std::ptrdiff_t>(first);
        const std::size_t count = std::min(at_a_time, cascade.sections.size() - first);
        complex_response(Cascade{{start, start + static_cast<std::ptrdiff_t>(count)}}, grid, re,
                         im);
        for (std::size_t i = 0; i < re.size(); ++i) {
            level[i] += db_from_ratio(std::hypot(re[i], im[i]));
        }
    }
    return level;
}

Response response(const Cascade& cascade, const FrequencyGrid& grid) {
    const std::vector<SectionOnCircle> terms = on_circle(cascade);
    Response all(grid.size());
    for (std::size_t i = 0; i < grid.size(); ++i) {
        const ResponsePoint at =
            point(terms, grid.half_sine_squared()[i], grid.sine()[i], grid.cosine()[i]);
        all.magnitude_db[i] = at.magnitude_db;
        all.phase_rad[i] = at.phase_rad;
        all.group_delay_samples[i] = at.group_delay_samples;
    }
    return all;
}

ResponsePoint response_at(const Cascade& cascade, double frequency_hz, double sample_rate_hz) {
    const double w = rad_per_sample_from_hz(frequency_hz, sample_rate_hz);
    const double half_sine = std::sin(w / 2);
    const bool at_end = frequency_hz == nyquist_hz(sample_rate_hz);
    return point(on_circle(cascade), half_sine * half_sine, at_end ? 0.0 : std::sin(w),
                 std::cos(w));
}

double level_db_at(const Cascade& cascade, double half_sine_squared, double sine) {
    PowerProduct power;
    for (const Biquad& section : cascade.sections) {
        power.multiply(power_of(numerator_on_circle(section), half_sine_squared, sine)
                       / power_of(denominator_on_circle(section), half_sine_squared, sine));
    }
    return power.db();
}

std::vector<double> impulse_response(const Cascade& cascade, std::size_t length) {
    std::vector<double> signal(length, 0.0);
    if (length > 0) {
        signal[0] = 1;
    }
    for (const Biquad& c : cascade.sections) {
        double first = 0, second = 0; // direct form II transposed
        for (double& sample : signal) {
            const double x = sample;
            const double y = c.b0 * x + first;
            first = c.b1 * x - c.a1 * y + second;
            second = c.b2 * x - c.a2 * y;
            sample = y;
        }
    }
    return signal;
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
