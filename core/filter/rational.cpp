// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/filter/rational.h"

#include "core/filter/form.h"
#include "core/filter/meeting_powers.h"
#include "core/math/complex_parts.h"
#include "core/math/roots_at_once.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <mutex>
#include <optional>
#include <utility>

namespace syntonon {
namespace {

using Complex = std::complex<double>;

RootsValue value_of(const std::vector<class Ready>& terms, const Complex& x);

// A product ready for being evaluated often: equal roots, as of what is repeated, taken together.
class Ready {
public:
    explicit Ready(const PolynomialProduct& product) : gain_(product.gain), delay_(product.delay) {
        for (const Complex& root : product.roots) {
            const auto same = std::ranges::find(roots_, root, &Several::root);
            if (same != roots_.end()) {
                ++same->count;
            } else {
                roots_.push_back({root, 1});
            }
        }
        for (const auto& sum : product.sums) {
            sums_.emplace_back(sum->terms().begin(), sum->terms().end());
        }
    }

    // With the logarithmic derivative by z.
    RootsValue at(const Complex& x) const {
        RootsValue value{gain_ * power_of(x, delay_), -static_cast<double>(delay_) * x};
        for (const auto& [root, count] : roots_) {
            const Complex share = times(root, x), factor = 1.0 - share;
            value.h = times(value.h, count == 1 ? factor : power_of(factor, count));
            value.log_slope +=
                static_cast<double>(count) * times(times(share, x), inverse_of(factor));
        }
        for (const std::vector<Ready>& terms : sums_) {
            const RootsValue sum = value_of(terms, x);
            value.h = times(value.h, sum.h);
            value.log_slope += sum.log_slope;
        }
        return value;
    }

    // How far rounding may take the value from the true one.
    double floor_at(const Complex& x) const {
        constexpr double a_rounding = 4e-16;
        double size = std::abs(gain_ * power_of(x, delay_));
        double relative = a_rounding * static_cast<double>(2 + delay_);
        for (const auto& [root, count] : roots_) {
            const Complex share = times(root, x);
            const double factor = std::abs(1.0 - share), times = static_cast<double>(count);
            size *= std::pow(factor, times);
            relative += a_rounding * times * (1 + std::abs(share)) / factor;
        }
        for (const std::vector<Ready>& terms : sums_) {
            const double sum = std::abs(value_of(terms, x).h);
            size *= sum;
            relative += floor_of(terms, x) / sum;
        }
        return size * relative;
    }
    static double floor_of(const std::vector<Ready>& terms, const Complex& x) {
        double all = 0;
        for (const Ready& term : terms) {
            all += term.floor_at(x);
        }
        return all;
    }

private:
    struct Several {
        Complex root;
        std::size_t count;
    };
    double gain_;
    std::size_t delay_;
    std::vector<Several> roots_;
    std::vector<std::vector<Ready>> sums_;
};

RootsValue value_of(const std::vector<Ready>& terms, const Complex& x) {
    Complex sum = 0, slope = 0;
    for (const Ready& term : terms) {
        const RootsValue one = term.at(x);
        sum += one.h;
        slope += times(one.h, one.log_slope);
    }
    return {sum, times(slope, inverse_of(sum))};
}

// To first order: what the value is known to, by the slope there.
double uncertainty_of_root(const std::vector<Ready>& terms, const Complex& z) {
    const Complex x = inverse_of(z);
    Complex slope = 0;
    for (const Ready& term : terms) {
        const RootsValue one = term.at(x);
        slope += times(one.h, one.log_slope);
    }
    return Ready::floor_of(terms, x) / std::abs(slope);
}

std::vector<double> expanded(const PolynomialProduct& product) {
    std::vector<Complex> c(product.delay + 1, 0.0);
    c.back() = product.gain;
    for (const Complex& root : product.roots) {
        c.emplace_back(0);
        for (std::size_t k = c.size() - 1; k > product.delay; --k) {
            c[k] -= root * c[k - 1];
        }
    }
    std::vector<double> real(c.size());
    std::ranges::transform(c, real.begin(), [](const Complex& v) { return v.real(); });
    for (const auto& sum : product.sums) {
        std::vector<double> all(real.size() + sum->first_power() + sum->coefficients().size(), 0.0);
        for (std::size_t i = 0; i < real.size(); ++i) {
            for (std::size_t k = 0; k < sum->coefficients().size(); ++k) {
                all[i + sum->first_power() + k] += real[i] * sum->coefficients()[k];
            }
        }
        all.pop_back();
        real = std::move(all);
    }
    return real;
}

bool is_near(const Complex& a, const Complex& b) {
    return std::abs(a - b) <= 1e-12 * (1 + std::abs(a));
}

// What `own` lacks of `all`; what it has beyond it is added to `all`.
template <class T, class IsSame>
std::vector<T> missing_of(const std::vector<T>& own, std::vector<T>& all, IsSame is_same) {
    std::vector<T> rest = all;
    for (const T& one : own) {
        const auto same =
            std::ranges::find_if(rest, [&](const T& other) { return is_same(one, other); });
        if (same != rest.end()) {
            rest.erase(same);
        } else {
            all.push_back(one);
        }
    }
    return rest;
}

// What brings a fraction with the denominator `own` to the common one, which grows where it must.
PolynomialProduct missing_from(const PolynomialProduct& own, PolynomialProduct& common) {
    PolynomialProduct missing;
    missing.gain = 1 / own.gain;
    missing.roots = missing_of(own.roots, common.roots, is_near);
    missing.sums = missing_of(own.sums, common.sums, std::equal_to<>());
    return missing;
}

// A product with one sum in it as products without one, which is as exact and quicker to evaluate.
void add_flat(const PolynomialProduct& product_of_one, std::vector<PolynomialProduct>& terms) {
    constexpr std::size_t most_terms = 12;
    if (product_of_one.sums.size() != 1
        || terms.size() + product_of_one.sums[0]->terms().size() > most_terms) {
        terms.push_back(product_of_one);
        return;
    }
    PolynomialProduct outer = product_of_one;
    const auto inner = std::move(outer.sums[0]);
    outer.sums.clear();
    for (const PolynomialProduct& term : inner->terms()) {
        terms.push_back(product(outer, term));
    }
}

PolynomialProduct sum_of(std::vector<PolynomialProduct> terms) {
    PolynomialProduct whole;
    if (terms.size() == 1) {
        return terms.front();
    }
    std::vector<PolynomialProduct> flat;
    for (const PolynomialProduct& term : terms) {
        add_flat(term, flat);
    }
    whole.sums.push_back(std::make_shared<const PolynomialSum>(std::move(flat)));
    return whole;
}

// The roots that are not at the origin, by analog_unit.
std::vector<Complex> scaled(const std::vector<Complex>& roots) {
    std::vector<Complex> found;
    for (const Complex& root : roots) {
        if (root != 0.0) {
            found.push_back(root / analog_unit_rad_per_s);
        }
    }
    return found;
}

Expected<Rational> analog_rational(const Roots& roots) {
    const auto relative_degree =
        static_cast<double>(roots.poles.size()) - static_cast<double>(roots.zeros.size());
    const double gain = roots.gain * std::pow(analog_unit_rad_per_s, -relative_degree);
    if (!std::isfinite(gain)) {
        return refuse("", "of an order and a frequency whose powers are beyond all numbers",
                      "lower one of them");
    }
    return Rational{{gain, static_cast<std::size_t>(relative_degree), scaled(roots.zeros), {}},
                    {1, 0, scaled(roots.poles), {}}};
}

struct RationalOf {
    template <class Leaf>
    Expected<Rational> operator()(const Leaf&) const {
        const auto& roots = filter.roots();
        if (!roots) {
            return tl::unexpected(roots.error());
        }
        if (roots->domain == Domain::analog) {
            return analog_rational(*roots);
        }
        return Rational{
            {roots->gain, static_cast<std::size_t>(roots->delay_samples), roots->zeros, {}},
            {1, 0, roots->poles, {}}};
    }
    Expected<Rational> operator()(const Series& chain) const { return row(chain.parts); }
    Expected<Rational> operator()(const Computed& computed) const {
        return computed.linear.rational();
    }
    Expected<Rational> operator()(const Oversampled& of) const { return syntonon::rational_of(of); }
    Expected<Rational> operator()(const Repeated& repeated) const {
        return row(std::vector<Filter>(repeated.count, repeated.filter));
    }
    // Poles that branches share count once.
    Expected<Rational> operator()(const ParallelSum& sum) const {
        std::vector<Rational> branches;
        PolynomialProduct common;
        for (const auto& branch : sum.branches) {
            const auto& one = branch.filter.rational();
            if (!one) {
                return one;
            }
            missing_from(one->denominator, common);
            branches.push_back(*one);
        }
        std::vector<PolynomialProduct> terms;
        for (std::size_t i = 0; i < branches.size(); ++i) {
            PolynomialProduct all = common;
            terms.push_back(
                product(branches[i].numerator, missing_from(branches[i].denominator, all)));
            terms.back().gain *= sum.branches[i].factor;
        }
        return Rational{sum_of(std::move(terms)), std::move(common)};
    }
    // F / (1 - k F R) = Nf Dr / (Df Dr - k Nf Nr): F's own poles fall out.
    Expected<Rational> operator()(const Loop& loop) const {
        const auto& forward = loop.forward.rational();
        const auto& feedback = loop.feedback.rational();
        if (!forward || !feedback) {
            return !forward ? forward : feedback;
        }
        PolynomialProduct back = product(forward->numerator, feedback->numerator);
        back.gain *= -loop.factor;
        return Rational{
            product(forward->numerator, feedback->denominator),
            sum_of({product(forward->denominator, feedback->denominator), std::move(back)})};
    }

    static Expected<Rational> row(const std::vector<Filter>& parts) {
        Rational all;
        for (const Filter& part : parts) {
            const auto& one = part.rational();
            if (!one) {
                return one;
            }
            all = {product(std::move(all.numerator), one->numerator),
                   product(std::move(all.denominator), one->denominator)};
        }
        return all;
    }

    const Filter& filter;
};

// All roots of a product; gain and delay get what its sums contribute.
Expected<PolynomialProduct> solved(const PolynomialProduct& product, double& uncertainty) {
    PolynomialProduct all = product;
    all.sums.clear();
    for (const auto& sum : product.sums) {
        const auto& roots = sum->roots();
        if (!roots) {
            return tl::unexpected(roots.error());
        }
        all.gain *= sum->coefficients().empty() ? 0 : sum->coefficients().front();
        all.delay += sum->first_power();
        all.roots.insert(all.roots.end(), roots->roots.begin(), roots->roots.end());
        uncertainty = std::max(uncertainty, roots->uncertainty);
    }
    return all;
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

struct PolynomialSum::Kept {
    std::once_flag once;
    std::optional<Expected<Found>> roots;
};

PolynomialProduct product(PolynomialProduct a, const PolynomialProduct& b) {
    a.gain *= b.gain;
    a.delay += b.delay;
    a.roots.insert(a.roots.end(), b.roots.begin(), b.roots.end());
    a.sums.insert(a.sums.end(), b.sums.begin(), b.sums.end());
    return a;
}

PolynomialSum::PolynomialSum(std::vector<PolynomialProduct> terms)
    : terms_(std::move(terms)), kept_(std::make_shared<Kept>()) {
    std::vector<double> sum, size;
    for (const PolynomialProduct& term : terms_) {
        const auto c = expanded(term);
        sum.resize(std::max(sum.size(), c.size()), 0.0);
        size.resize(sum.size(), 0.0);
        for (std::size_t k = 0; k < c.size(); ++k) {
            sum[k] += c[k];
            size[k] += std::abs(c[k]);
        }
    }
    const auto is_there = [&](std::size_t k) { return std::abs(sum[k]) > 1e-13 * size[k]; };
    while (first_ < sum.size() && !is_there(first_)) {
        ++first_;
    }
    std::size_t end = sum.size();
    while (end > first_ && !is_there(end - 1)) {
        --end;
    }
    coefficients_.assign(sum.begin() + static_cast<std::ptrdiff_t>(first_),
                         sum.begin() + static_cast<std::ptrdiff_t>(end));
}

const Expected<PolynomialSum::Found>& PolynomialSum::roots() const {
    std::call_once(kept_->once, [&] {
        const std::size_t degree = coefficients_.empty() ? 0 : coefficients_.size() - 1;
        if (degree > most_roots_of_a_sum) {
            kept_->roots.emplace(
                refuse("", fmt::format("the sum has {} zeros, too many to be worked out", degree),
                       fmt::format("they are shown up to {}", most_roots_of_a_sum)));
            return;
        }
        const std::vector<Ready> ready(terms_.begin(), terms_.end());
        // N(z) = z^last sum is a polynomial in z.
        const auto last = static_cast<double>(first_ + degree);
        auto roots = roots_at_once(
            [&](const Complex& z) {
                const Complex x = inverse_of(z);
                return value_of(ready, x).log_slope + last * x;
            },
            degree, 1, near_meeting_powers(terms_));
        if (!roots) {
            kept_->roots.emplace(
                refuse("", "the zeros of the sum were not found", "change a branch"));
            return;
        }
        double uncertainty = 0;
        for (const Complex& z : *roots) {
            uncertainty = std::max(uncertainty, uncertainty_of_root(ready, z));
        }
        pair_conjugates(*roots);
        kept_->roots.emplace(Found{std::move(*roots), uncertainty});
    });
    return *kept_->roots;
}

Expected<Rational> rational_of(const Filter& filter) {
    return std::visit(RationalOf{filter}, static_cast<const AnyForm::variant&>(filter.form()));
}

Coefficients coefficients_of(const Rational& rational) {
    Coefficients all{expanded(rational.numerator), expanded(rational.denominator)};
    const double first = all.denominator.front();
    for (std::vector<double>* c : {&all.numerator, &all.denominator}) {
        double largest = 0;
        for (double& value : *c) {
            value /= first;
            largest = std::max(largest, std::abs(value));
        }
        for (double& value : *c) {
            value = std::abs(value) <= 1e-13 * largest ? 0 : value;
        }
        while (c->size() > 1 && c->back() == 0) {
            c->pop_back();
        }
    }
    return all;
}

Expected<Roots> analog_roots_of(const Rational& rational) {
    return roots_of(rational).map([](Roots all) {
        const auto zeros_at_origin = static_cast<double>(all.poles.size())
                                     - static_cast<double>(all.zeros.size()) - all.delay_samples;
        for (auto* roots : {&all.zeros, &all.poles}) {
            for (Complex& root : *roots) {
                root *= analog_unit_rad_per_s;
            }
        }
        auto& at_origin = zeros_at_origin >= 0 ? all.zeros : all.poles;
        at_origin.resize(at_origin.size()
                         + static_cast<std::size_t>(std::lround(std::abs(zeros_at_origin))));
        all.gain *= std::pow(analog_unit_rad_per_s, all.delay_samples);
        all.delay_samples = 0;
        all.uncertainty *= analog_unit_rad_per_s;
        all.domain = Domain::analog;
        return all;
    });
}

Expected<Roots> roots_of(const Rational& rational) {
    double uncertainty = 0;
    const auto numerator = solved(rational.numerator, uncertainty),
               denominator = solved(rational.denominator, uncertainty);
    if (!numerator || !denominator) {
        return tl::unexpected(!numerator ? numerator.error() : denominator.error());
    }
    if (numerator->gain == 0) {
        return Roots{{}, {}, 0, 0};
    }
    Roots all{numerator->roots, denominator->roots, numerator->gain / denominator->gain,
              static_cast<double>(numerator->delay) - static_cast<double>(denominator->delay),
              uncertainty};
    cancel(all);
    return all;
}

} // namespace syntonon
