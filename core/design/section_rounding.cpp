// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/section_rounding.h"

#include <algorithm>
#include <array>
#include <cmath>
#include <cstddef>
#include <limits>
#include <random>
#include <utility>

namespace syntonon {
namespace {

using Real = long double;
using Wide = std::complex<Real>;

constexpr std::size_t most_places = 3;
using Errors = std::array<double, most_places>; // of ln |H|, at each place
constexpr double good_enough = 2e-11;           // 2e-10 dB

// A polynomial in 1/z at a place on the circle, turned by z: (c0 + c1 + c2) and so on kept apart,
// so that nothing cancels near 0 Hz and half the rate; see CircleQuadratic.
struct Place {
    Real half_sine_squared, half_cosine_squared, sine, cosine;

    explicit Place(const std::complex<double>& z) {
        const Real angle = std::arg(z);
        const Real s = std::sin(angle / 2), c = std::cos(angle / 2);
        half_sine_squared = s * s;
        half_cosine_squared = c * c;
        sine = z.imag() == 0 ? 0 : std::sin(angle);
        cosine = std::cos(angle);
    }

    // |c|^2 of a pair of roots, by their analog polynomial where there is one.
    Real power(const RootPair& pair) const {
        if (pair.divisor == 0 || half_cosine_squared == 0) {
            return power(pair.c);
        }
        // c(z) = P(s) (1 + 1/z)^count / divisor, s = j w
        const Real w_squared = pair.k * pair.k * half_sine_squared / half_cosine_squared;
        const Real plus_1 = 4 * half_cosine_squared; // |1 + 1/z|^2
        const auto& p = pair.analog;
        if (pair.count() == 1) {
            return (w_squared + p[1] * p[1]) * plus_1 / (pair.divisor * pair.divisor);
        }
        const Real re = p[2] - w_squared;
        return (re * re + p[1] * p[1] * w_squared) * plus_1 * plus_1
               / (pair.divisor * pair.divisor);
    }
    template <class Number>
    Real power(const std::array<Number, 3>& c) const {
        const Real c0 = c[0], c1 = c[1], c2 = c[2];
        const Real re = cosine >= 0 ? (c1 + (c0 + c2)) - 2 * (c0 + c2) * half_sine_squared
                                    : (c1 - (c0 + c2)) + 2 * (c0 + c2) * half_cosine_squared;
        const Real im = (c0 - c2) * sine;
        return re * re + im * im;
    }
};

struct Candidate {
    Biquad section;
    Errors errors{};
};

// How far a place's level is off when true coefficients become rounded ones.
double error_of(Real rounded_power, Real true_power) {
    return true_power > 0 && rounded_power > 0
               ? static_cast<double>(std::log(rounded_power / true_power) / 2)
               : 0;
}

double next_by(double value, int steps) {
    for (; steps > 0; --steps) {
        value = std::nextafter(value, std::numeric_limits<double>::infinity());
    }
    for (; steps < 0; ++steps) {
        value = std::nextafter(value, -std::numeric_limits<double>::infinity());
    }
    return value;
}

std::vector<Candidate> denominators_of(const RootPair& poles, const std::vector<Place>& places) {
    const auto a1 = static_cast<double>(poles.c[1]), a2 = static_cast<double>(poles.c[2]);
    const int second = poles.count() == 2 ? 1 : 0, first = poles.count() >= 1 ? 1 : 0;
    std::vector<Candidate> all;
    for (int i = -first; i <= first; ++i) {
        for (int k = -second; k <= second; ++k) {
            Candidate one;
            one.section.a1 = next_by(a1, i);
            one.section.a2 = next_by(a2, k);
            const std::array<double, 3> a{1, one.section.a1, one.section.a2};
            for (std::size_t p = 0; p < places.size(); ++p) {
                one.errors[p] = -error_of(places[p].power(a), places[p].power(poles));
            }
            all.push_back(one);
        }
    }
    return all;
}

// The gain a few last bits up and down: b0, b1 and b2 are rounded differently against each other.
// Errors are those against the draft's own gain.
std::vector<Candidate> numerators_of(const ScaledDraft& draft, Real gain,
                                     const std::vector<Place>& places) {
    constexpr int variants = 3;
    std::array<Real, 3> wanted{};
    std::ranges::transform(draft.draft.zeros.c, wanted.begin(),
                           [&](Real c) { return c * draft.gain; });
    std::vector<Candidate> all;
    for (int i = -variants; i <= variants; ++i) {
        const Real scale = gain + i * Real(std::numeric_limits<double>::epsilon()) / 2;
        std::array<double, 3> b{};
        std::ranges::transform(wanted, b.begin(),
                               [&](Real c) { return static_cast<double>(c * scale); });
        const double nearest = b[1];
        const bool turns = draft.draft.zeros.count() == 2 && draft.draft.zeros.roots[0].imag() != 0;
        for (int k = turns ? -2 : 0; k <= (turns ? 2 : 0); ++k) {
            b[1] = next_by(nearest, k);
            Candidate one;
            one.section = {b[0], b[1], b[2], 0, 0};
            for (std::size_t p = 0; p < places.size(); ++p) {
                one.errors[p] = error_of(places[p].power(b), places[p].power(draft.draft.zeros)
                                                                 * draft.gain * draft.gain);
            }
            all.push_back(one);
        }
    }
    return all;
}

double shared_by_edges(const Errors& errors, std::size_t places) {
    double sum = 0;
    for (std::size_t p = 1; p < places; ++p) {
        sum += errors[p];
    }
    return places > 1 ? sum / static_cast<double>(places - 1) : 0;
}

class Search {
public:
    // The first section's gain is `gain` times its own.
    Search(const std::vector<ScaledDraft>& sections, Real gain, const std::vector<Place>& places)
        : places_(places.size()) {
        for (const ScaledDraft& section : sections) {
            choices_.push_back(denominators_of(section.draft.poles, places));
            choices_.push_back(
                numerators_of(section, &section == &sections.front() ? gain : 1, places));
        }
        // Nearest of each to begin with: the middle one.
        for (const auto& all : choices_) {
            chosen_.push_back(all.size() / 2);
            add(all[all.size() / 2].errors, 1);
        }
    }

    // From the nearest choices downhill, one exchange at a time; where that ends too high, kicked
    // off its place and downhill again (iterated local search: H. R. Lourenco, O. C. Martin, T.
    // Stuetzle, 2003). The kicks are the same every time.
    void run() {
        constexpr int most_kicks = 800;
        std::minstd_rand random(1);
        descend();
        for (int kick = 0; kick < most_kicks && size_of(total_) > good_enough; ++kick) {
            const auto before = chosen_;
            const Errors before_total = total_;
            for (int i = 0; i < 3; ++i) {
                const std::size_t list = random() % choices_.size();
                choose(list, random() % choices_[list].size());
            }
            descend();
            if (!(size_of(total_) < size_of(before_total))) {
                chosen_ = before;
                total_ = before_total;
            }
        }
    }

    double shared() const { return shared_by_edges(total_, places_); }
    double apart() const { return apart_of(total_); }
    std::vector<Biquad> sections() const {
        std::vector<Biquad> all;
        for (std::size_t i = 0; i < choices_.size(); i += 2) {
            const Biquad& a = choices_[i][chosen_[i]].section;
            const Biquad& b = choices_[i + 1][chosen_[i + 1]].section;
            all.push_back({b.b0, b.b1, b.b2, a.a1, a.a2});
        }
        return all;
    }

private:
    // The edges' errors but for what they share, which the gain can take; a little of all else.
    double size_of(const Errors& errors) const {
        constexpr double little = 0.001;
        double most = 0;
        for (std::size_t p = 0; p < places_; ++p) {
            most = std::max(most, std::abs(errors[p]));
        }
        return apart_of(errors) + little * most;
    }
    double apart_of(const Errors& errors) const {
        const double shared = shared_by_edges(errors, places_);
        double apart = 0;
        for (std::size_t p = 1; p < places_; ++p) {
            apart = std::max(apart, std::abs(errors[p] - shared));
        }
        return apart;
    }
    void add(const Errors& errors, double sign) {
        for (std::size_t p = 0; p < places_; ++p) {
            total_[p] += sign * errors[p];
        }
    }
    Errors with(const Errors& from, std::size_t i, std::size_t choice) const {
        Errors sum = from;
        for (std::size_t p = 0; p < places_; ++p) {
            sum[p] += choices_[i][choice].errors[p] - choices_[i][chosen_[i]].errors[p];
        }
        return sum;
    }
    void choose(std::size_t list, std::size_t choice) {
        total_ = with(total_, list, choice);
        chosen_[list] = choice;
    }
    void descend() {
        for (bool better = true; better && size_of(total_) > good_enough;) {
            better = false;
            for (std::size_t i = 0; i < choices_.size(); ++i) {
                for (std::size_t c = 0; c < choices_[i].size(); ++c) {
                    if (size_of(with(total_, i, c)) < size_of(total_)) {
                        choose(i, c);
                        better = true;
                    }
                }
            }
        }
    }

    std::size_t places_;
    std::vector<std::vector<Candidate>> choices_; // of each denominator and numerator in turn
    std::vector<std::size_t> chosen_;
    Errors total_{};
};

} // namespace

std::vector<Biquad> rounded_together(const std::vector<ScaledDraft>& sections,
                                     std::span<const std::complex<double>> places) {
    const std::vector<Place> all(places.begin(), places.end());
    constexpr double least = 1e-11, most = 1e-6; // more is not rounding, and not for the gain
    constexpr int most_rounds = 4;
    Real gain = 1;
    std::vector<Biquad> best;
    double least_left = std::numeric_limits<double>::infinity();
    for (int round = 0; round < most_rounds; ++round) {
        Search search(sections, gain, all);
        search.run();
        const double at_edges = search.shared();
        const double left = search.apart() + std::abs(at_edges);
        if (left < least_left) {
            least_left = left;
            best = search.sections();
        }
        gain *= std::exp(-Real(at_edges));
        if (std::abs(at_edges) < least || std::abs(gain - 1) > most) {
            break;
        }
    }
    return best;
}

} // namespace syntonon
