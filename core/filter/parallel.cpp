// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/filter/parallel.h"

#include "core/math/roots_at_once.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <limits>
#include <utility>

namespace syntonon {
namespace {

using Complex = std::complex<double>;

constexpr double rounding = 4e-16;

class SumProber : public Prober {
public:
    explicit SumProber(const ParallelSum& sum) {
        for (const auto& branch : sum.branches) {
            branches_.emplace_back(branch.factor, branch.filter.prober());
        }
    }

    FilterValue value(const CirclePoint& at) const override {
        FilterValue sum;
        for (const auto& [factor, prober] : branches_) {
            const FilterValue one = prober->value(at);
            sum.h += factor * one.h;
            sum.slope += factor * one.slope;
            sum.floor += std::abs(factor) * (one.floor + rounding * std::abs(one.h));
        }
        return sum;
    }

private:
    std::vector<std::pair<double, std::shared_ptr<const Prober>>> branches_;
};

bool is_near(const Complex& a, const Complex& b) {
    return std::abs(a - b) <= 1e-12 * (1 + std::abs(a));
}

// What `poles` lack of `all`; what they have beyond it is added to `all`.
std::vector<Complex> missing_from(const std::vector<Complex>& poles, std::vector<Complex>& all) {
    std::vector<Complex> rest = all;
    for (const Complex& pole : poles) {
        const auto same =
            std::ranges::find_if(rest, [&](const Complex& other) { return is_near(pole, other); });
        if (same != rest.end()) {
            rest.erase(same);
        } else {
            all.push_back(pole);
        }
    }
    return rest;
}

// A branch's share of the sum over the common denominator: gain x^delay prod(1 - zero x), x = 1/z.
struct Term {
    double gain;
    double delay;
    std::vector<Complex> zeros;
    std::size_t degree() const { return zeros.size() + static_cast<std::size_t>(delay); }
};

// Its coefficients by powers of x.
std::vector<double> expanded(const Term& term, std::size_t degree) {
    std::vector<Complex> c(degree + 1, 0.0);
    const auto from = static_cast<std::size_t>(term.delay);
    c[from] = term.gain;
    for (const Complex& zero : term.zeros) {
        for (std::size_t k = degree; k > from; --k) {
            c[k] -= zero * c[k - 1];
        }
    }
    std::vector<double> real(c.size());
    std::ranges::transform(c, real.begin(), [](const Complex& v) { return v.real(); });
    return real;
}

struct Ends {
    std::size_t first, last; // powers of x that are there
    double leading;          // the first one's coefficient
};

// Which powers of x are left after the terms have cancelled; nothing: all have.
std::optional<Ends> ends_of(const std::vector<Term>& terms, std::size_t degree) {
    std::vector<double> sum(degree + 1, 0.0), size(degree + 1, 0.0);
    for (const Term& term : terms) {
        const auto c = expanded(term, degree);
        for (std::size_t k = 0; k <= degree; ++k) {
            sum[k] += c[k];
            size[k] += std::abs(c[k]);
        }
    }
    const auto is_there = [&](std::size_t k) { return std::abs(sum[k]) > 1e-13 * size[k]; };
    std::size_t first = 0, last = degree;
    while (first <= degree && !is_there(first)) {
        ++first;
    }
    if (first > degree) {
        return std::nullopt;
    }
    while (!is_there(last)) {
        --last;
    }
    return Ends{first, last, sum[first]};
}

// Not the library's, which look after infinities and take several times as long.
Complex inverse(const Complex& a) {
    const double size = std::max(std::abs(a.real()), std::abs(a.imag()));
    const Complex scaled = a / size; // its norm neither overflows nor vanishes
    return std::conj(scaled) / (std::norm(scaled) * size);
}
Complex product(const Complex& a, const Complex& b) {
    return {a.real() * b.real() - a.imag() * b.imag(), a.real() * b.imag() + a.imag() * b.real()};
}
Complex whole_power_of(Complex base, std::size_t exponent) {
    Complex power = 1;
    for (; exponent > 0; exponent /= 2) {
        power = exponent % 2 == 1 ? product(power, base) : power;
        base = product(base, base);
    }
    return power;
}

// A term ready for being evaluated often: equal zeros, as of what is repeated, are taken together.
class ReadyTerm {
public:
    explicit ReadyTerm(const Term& term)
        : gain_(term.gain), delay_(static_cast<std::size_t>(term.delay)) {
        for (const Complex& zero : term.zeros) {
            const auto same = std::ranges::find(zeros_, zero, &Several::zero);
            if (same != zeros_.end()) {
                ++same->times;
            } else {
                zeros_.push_back({zero, 1});
            }
        }
    }

    // Of gain x^delay prod(1 - zero x)^times, with its derivative by z.
    RootsValue at(const Complex& x) const {
        Complex h = gain_ * whole_power_of(x, delay_);
        Complex slope = -static_cast<double>(delay_) * x;
        for (const auto& [zero, times] : zeros_) {
            const Complex share = product(zero, x), factor = 1.0 - share;
            h = product(h, times == 1 ? factor : whole_power_of(factor, times));
            slope += static_cast<double>(times) * product(product(share, x), inverse(factor));
        }
        return {h, slope};
    }

private:
    struct Several {
        Complex zero;
        std::size_t times;
    };
    double gain_;
    std::size_t delay_;
    std::vector<Several> zeros_;
};

// N'(z)/N(z) of N(z) = z^last sum(terms), the polynomial in z whose zeros are looked for.
Complex log_derivative(const std::vector<ReadyTerm>& terms, double last, Complex z) {
    const Complex x = inverse(z);
    Complex sum = 0, slope = 0;
    for (const ReadyTerm& term : terms) {
        const RootsValue one = term.at(x);
        sum += one.h;
        slope += product(one.h, one.log_slope);
    }
    return product(slope, inverse(sum)) + last * x;
}

// Pairs of a zero and a pole in one place do nothing.
void cancel(Roots& roots) {
    for (auto zero = roots.zeros.begin(); zero != roots.zeros.end();) {
        const auto pole = std::ranges::find_if(
            roots.poles, [&](const Complex& p) { return std::abs(p - *zero) < 1e-12; });
        if (pole == roots.poles.end()) {
            ++zero;
            continue;
        }
        roots.poles.erase(pole);
        zero = roots.zeros.erase(zero);
    }
}

} // namespace

std::shared_ptr<const Prober> prober(const ParallelSum& sum) {
    return std::make_shared<SumProber>(sum);
}

void add_telling_hz(const ParallelSum& sum, const TellingRange& range, std::vector<double>& out) {
    double longest = 0;
    for (const auto& branch : sum.branches) {
        const auto memory = branch.filter.memory();
        longest = std::max(longest, memory ? memory->finite_samples : 0.0);
    }
    if (ripples_too_often(longest, range)) {
        return;
    }
    std::vector<double> seeds;
    for (const auto& branch : sum.branches) {
        const auto own = branch.filter.telling_hz(range);
        seeds.insert(seeds.end(), own.begin(), own.end());
    }
    add_ripple_hz(longest, range, seeds);
    const auto found = halved_until_smooth(*prober(sum), std::move(seeds), range);
    out.insert(out.end(), found.begin(), found.end());
}

Expected<Roots> roots_of(const ParallelSum& sum) {
    std::vector<const Roots*> branches;
    std::vector<Complex> poles;
    for (const auto& branch : sum.branches) {
        const auto& roots = branch.filter.roots();
        if (!roots) {
            return roots;
        }
        branches.push_back(&*roots);
        missing_from(roots->poles, poles);
    }
    std::vector<Term> terms;
    std::size_t degree = 0;
    for (std::size_t i = 0; i < branches.size(); ++i) {
        std::vector<Complex> all = poles;
        Term term{sum.branches[i].factor * branches[i]->gain, branches[i]->delay_samples,
                  missing_from(branches[i]->poles, all)};
        term.zeros.insert(term.zeros.end(), branches[i]->zeros.begin(), branches[i]->zeros.end());
        degree = std::max(degree, term.degree());
        terms.push_back(std::move(term));
    }
    if (degree > most_zeros_of_a_sum) {
        return refuse("", fmt::format("the sum has {} zeros, too many to be worked out", degree),
                      fmt::format("they are shown up to {}", most_zeros_of_a_sum));
    }
    const auto ends = ends_of(terms, degree);
    if (!ends) {
        return Roots{{}, {}, 0, 0};
    }
    const auto last = static_cast<double>(ends->last);
    const std::vector<ReadyTerm> ready(terms.begin(), terms.end());
    auto zeros = roots_at_once([&](Complex z) { return log_derivative(ready, last, z); },
                               ends->last - ends->first);
    if (!zeros) {
        return refuse("", "the zeros of the sum were not found", "change a branch");
    }
    pair_conjugates(*zeros);
    Roots roots{std::move(*zeros), std::move(poles), ends->leading,
                static_cast<double>(ends->first)};
    cancel(roots);
    return roots;
}

Expected<Memory> memory_of(const ParallelSum& sum) {
    Memory all;
    for (const auto& branch : sum.branches) {
        auto memory = branch.filter.memory();
        if (!memory) {
            return memory;
        }
        all = parallel(all, *memory);
    }
    return all;
}

void run(const ParallelSum& sum, std::span<double> signal) {
    const std::vector<double> input(signal.begin(), signal.end());
    std::ranges::fill(signal, 0.0);
    for (const auto& branch : sum.branches) {
        std::vector<double> output = input;
        branch.filter.run(output);
        for (std::size_t n = 0; n < signal.size(); ++n) {
            signal[n] += branch.factor * output[n];
        }
    }
}

double latency_samples(const ParallelSum& sum) {
    double least = std::numeric_limits<double>::infinity();
    for (const auto& branch : sum.branches) {
        if (branch.factor != 0) {
            least = std::min(least, branch.filter.latency_samples());
        }
    }
    return std::isfinite(least) ? least : 0;
}

Cost cost(const ParallelSum& sum) {
    Cost all;
    for (const auto& branch : sum.branches) {
        all += branch.filter.cost();
        all.multiplies += branch.factor != 0 && std::abs(branch.factor) != 1 ? 1 : 0;
    }
    all.adds += std::max(static_cast<int>(sum.branches.size()) - 1, 0);
    return all;
}

std::size_t bytes_of(const ParallelSum& sum) {
    std::size_t bytes = 0;
    for (const auto& branch : sum.branches) {
        bytes += branch.filter.bytes();
    }
    return bytes;
}

} // namespace syntonon
