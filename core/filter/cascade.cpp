// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/filter/cascade.h"

#include "core/base/units.h"

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

// delay -= sign * d(angle)/dw of one quadratic; 0/0 = NaN where it vanishes.
SYNTONON_VECTOR_CLONES
void add_delay(const CircleQuadratic& q, double sign, std::size_t count, const double* __restrict h,
               const double* __restrict s, const double* __restrict c, double* __restrict delay) {
    const double dc = q.dc, slope = q.slope, skew = sign * q.skew;
    for (std::size_t i = 0; i < count; ++i) {
        const double re = dc - slope * h[i];
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

// Several sections a pass: each waits for its own last output, but not for the others', so they
// run side by side in the processor.
constexpr std::size_t sections_a_pass = 4;

void run_sections(std::span<const Biquad> sections, std::vector<double>& signal) {
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
    return sum_over_parts(cascade, grid,
                          [](double re, double im) { return db_from_ratio(std::hypot(re, im)); });
}

std::vector<double> wrapped_phase_rad(const Cascade& cascade, const FrequencyGrid& grid) {
    return sum_over_parts(cascade, grid, [](double re, double im) { return std::atan2(im, re); });
}

std::vector<double> group_delay_samples(const Cascade& cascade, const FrequencyGrid& grid) {
    std::vector<double> delay(grid.size(), 0.0);
    for (const Biquad& section : cascade.sections) {
        const auto add = [&](const CircleQuadratic& q, double sign) {
            add_delay(q, sign, grid.size(), grid.half_sine_squared().data(), grid.sine().data(),
                      grid.cosine().data(), delay.data());
        };
        add(numerator_on_circle(section), 1);
        add(denominator_on_circle(section), -1);
    }
    return delay;
}

double group_delay_samples_at(const Cascade& cascade, double frequency_hz, double sample_rate_hz) {
    const double w = rad_per_sample_from_hz(frequency_hz, sample_rate_hz);
    const double half_sine = std::sin(w / 2);
    const double h = half_sine * half_sine, c = std::cos(w);
    const double s = frequency_hz == nyquist_hz(sample_rate_hz) ? 0.0 : std::sin(w);
    double delay = 0;
    for (const Biquad& section : cascade.sections) {
        add_delay(numerator_on_circle(section), 1, 1, &h, &s, &c, &delay);
        add_delay(denominator_on_circle(section), -1, 1, &h, &s, &c, &delay);
    }
    return delay;
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
    for (std::size_t first = 0; first < cascade.sections.size(); first += sections_a_pass) {
        const std::size_t last = std::min(first + sections_a_pass, cascade.sections.size());
        run_sections(std::span(cascade.sections).subspan(first, last - first), signal);
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
