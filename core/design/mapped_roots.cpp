// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/mapped_roots.h"

#include "core/base/units.h"

#include <algorithm>
#include <cmath>
#include <functional>
#include <limits>
#include <utility>

namespace syntonon {
namespace {

using Complex = std::complex<double>;
using Real = long double;

// s -> z of one or two roots.
using PairMap = std::function<RootPair(const RootPair&)>;

RootPair one_root(const Complex& root) {
    return {{root}, {1, -Real(root.real()), 0}};
}

RootPair two_roots(const Complex& a, const Complex& b) {
    const Real ar = a.real(), ai = a.imag(), br = b.real();
    return {{a, b}, {1, -(ar + br), a.imag() != 0 ? ar * ar + ai * ai : ar * br}};
}

RootPair bilinear(const RootPair& s, double sample_rate_hz) {
    const Real c = 2 * Real(sample_rate_hz);
    RootPair z;
    for (const Complex& root : s.roots) {
        const Complex share = root / static_cast<double>(c);
        z.roots.push_back((1.0 + share) / (1.0 - share));
    }
    if (s.count() == 2) {
        const Real square = c * c, line = s.c[1] * c, rest = s.c[2];
        const Real first = square + line + rest;
        z.c = {1, 2 * (rest - square) / first, (square - line + rest) / first};
        z.analog = s.c;
        z.divisor = first;
    } else if (s.count() == 1) {
        z.c = {1, (s.c[1] - c) / (s.c[1] + c), 0};
        z.analog = s.c;
        z.divisor = s.c[1] + c;
    }
    z.k = c;
    return z;
}

RootPair matched(const RootPair& s, double sample_rate_hz) {
    const Real rate = sample_rate_hz;
    RootPair z;
    for (const Complex& root : s.roots) {
        z.roots.push_back(std::exp(root / sample_rate_hz));
    }
    if (s.count() == 2 && s.roots[0].imag() != 0) {
        const Real radius = std::exp(Real(s.roots[0].real()) / rate);
        z.c = {1, -2 * radius * std::cos(Real(s.roots[0].imag()) / rate), radius * radius};
    } else if (s.count() == 2) {
        const Real a = std::exp(Real(s.roots[0].real()) / rate),
                   b = std::exp(Real(s.roots[1].real()) / rate);
        z.c = {1, -(a + b), a * b};
    } else if (s.count() == 1) {
        z.c = {1, -std::exp(Real(s.roots[0].real()) / rate), 0};
    }
    return z;
}

// The zeros that a draft gets that has none of its own: of those at the origin and at infinity one
// each, while there are both.
class Filling {
public:
    Filling(const BandRoots& roots, Complex origin, Complex infinity)
        : at_origin_(roots.zeros_at_origin), at_infinity_(roots.zeros_at_infinity), origin_(origin),
          infinity_(infinity) {}

    RootPair next(int count) {
        if (count == 1) {
            return one_root(take());
        }
        const Complex a = take();
        return two_roots(a, take());
    }

private:
    // Alternating, from the origin on.
    Complex take() {
        const bool origin = at_origin_ > 0 && (at_origin_ >= at_infinity_ || at_infinity_ == 0);
        --(origin ? at_origin_ : at_infinity_);
        return origin ? origin_ : infinity_;
    }

    int at_origin_, at_infinity_;
    Complex origin_, infinity_;
};

std::vector<SectionDraft> drafts_of(const BandRoots& roots, SectionPairing pairing,
                                    const PairMap& map, Filling filling) {
    std::vector<SectionDraft> poles;
    for (const RootPair& pair : analog_pairs(roots.poles)) {
        poles.push_back({{}, map(pair), q_of(pair)});
    }
    std::vector<RootPair> zeros;
    for (const RootPair& pair : analog_pairs(roots.zeros)) {
        zeros.push_back(map(pair));
    }
    auto drafts = paired(std::move(poles), std::move(zeros), pairing);
    for (SectionDraft& draft : drafts) {
        if (draft.zeros.count() == 0) {
            draft.zeros = filling.next(draft.poles.count());
        }
    }
    return drafts;
}

// Roots that are not there, as infinity in the s-plane.
void drop_infinite(SectionDraft& draft) {
    RootPair kept;
    for (const Complex& root : draft.zeros.roots) {
        if (std::isfinite(root.real())) {
            kept.roots.push_back(root);
        }
    }
    if (kept.count() != draft.zeros.count()) {
        draft.zeros = kept.roots.empty() ? RootPair{} : one_root(kept.roots[0]);
    }
}

} // namespace

std::vector<RootPair> analog_pairs(const std::vector<Complex>& roots) {
    std::vector<RootPair> pairs;
    std::vector<Complex> real;
    for (const Complex& root : roots) {
        if (root.imag() > 0) {
            pairs.push_back(two_roots(root, std::conj(root)));
        } else if (root.imag() == 0) {
            real.push_back(root);
        }
    }
    std::ranges::stable_sort(real, {}, [](const Complex& root) { return std::abs(root); });
    for (std::size_t i = 0; i + 1 < real.size(); i += 2) {
        pairs.push_back(two_roots(real[i], real[i + 1]));
    }
    if (real.size() % 2 == 1) {
        pairs.push_back(one_root(real.back()));
    }
    return pairs;
}

double q_of(const RootPair& poles) {
    return poles.count() == 2 ? static_cast<double>(std::sqrt(poles.c[2]) / poles.c[1]) : 0.5;
}

double level_of(const BandRoots& roots, ClassicalBand band, double rad_per_s) {
    const auto db_at = [&](const Complex& s) {
        double db = roots.zeros_at_origin * db_from_ratio(std::abs(s));
        for (const Complex& zero : roots.zeros) {
            db += db_from_ratio(std::abs(s - zero));
        }
        for (const Complex& pole : roots.poles) {
            db -= db_from_ratio(std::abs(s - pole));
        }
        return db;
    };
    double reference_db = 0; // of a high-pass at infinity
    if (band == ClassicalBand::band_pass) {
        reference_db = db_at({0, roots.middle_rad_per_s});
    } else if (band != ClassicalBand::high_pass) {
        reference_db = db_at(0);
    }
    return roots.passband_level * ratio_from_db(db_at({0, rad_per_s}) - reference_db);
}

SectionDrafts analog_drafts(const BandRoots& roots, ClassicalBand band, SectionPairing pairing) {
    const Complex nowhere(std::numeric_limits<double>::infinity(), 0);
    SectionDrafts found;
    found.drafts = drafts_of(
        roots, pairing, [](const RootPair& pair) { return pair; }, Filling(roots, 0, nowhere));
    std::ranges::for_each(found.drafts, drop_infinite);
    found.reference = {
        {0, roots.middle_rad_per_s}, band == ClassicalBand::high_pass, roots.passband_level};
    return found;
}

SectionDrafts bilinear_drafts(const BandRoots& roots, ClassicalBand band, SectionPairing pairing,
                              double sample_rate_hz) {
    SectionDrafts found;
    found.drafts = drafts_of(
        roots, pairing, [=](const RootPair& pair) { return bilinear(pair, sample_rate_hz); },
        Filling(roots, 1, -1));
    const double half_angle = std::atan(roots.middle_rad_per_s / (2 * sample_rate_hz));
    found.reference = {band == ClassicalBand::high_pass ? Complex(-1)
                                                        : std::polar(1.0, 2 * half_angle),
                       false, roots.passband_level};
    return found;
}

SectionDrafts matched_drafts(const BandRoots& roots, ClassicalBand band, SectionPairing pairing,
                             double sample_rate_hz) {
    SectionDrafts found;
    found.drafts = drafts_of(
        roots, pairing, [=](const RootPair& pair) { return matched(pair, sample_rate_hz); },
        Filling(roots, 1, 0));
    found.reference = {std::polar(1.0, roots.middle_rad_per_s / sample_rate_hz), false,
                       roots.passband_level};
    if (band == ClassicalBand::high_pass) {
        found.reference = {-1, false, level_of(roots, band, pi * sample_rate_hz)};
    }
    return found;
}

} // namespace syntonon
