// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/classical_working.h"

#include "core/base/units.h"
#include "core/design/band_roots.h"
#include "core/design/mapped_roots.h"
#include "core/design/ripple_factor.h"
#include "core/filter/form.h"

#include <cmath>
#include <fmt/format.h>
#include <utility>

namespace syntonon {
namespace {

using Complex = std::complex<double>;
using Family = ClassicalFamily;

class Steps {
public:
    explicit Steps(const ClassicalSteps& s) : s_(s) {}

    std::vector<WorkingStep> all() {
        if (s_.plan.found) {
            tolerances(*s_.plan.found);
        }
        edges();
        if (s_.plan.found) {
            order(*s_.plan.found);
        }
        if (s_.plan.family == Family::elliptic) {
            elliptic();
        }
        prototype();
        band();
        sections();
        product();
        return std::move(steps_);
    }

private:
    void begin(std::string title) { steps_.push_back({std::move(title), {}}); }
    void add(std::string symbol, std::string meaning, double value, std::string unit = "") {
        steps_.back().numbers.push_back(
            {std::move(symbol), std::move(meaning), value, std::move(unit)});
    }

    void tolerances(const FoundOrder& f) {
        begin("Tolerances");
        add("δp", "least gain in the passband", ratio_from_db(-f.pass_ripple_db));
        add("Ap", "−20 log10 δp", f.pass_ripple_db, "dB");
        const Tolerances& t = s_.spec.tolerances;
        if (t.pass_as_ratio) {
            add("", "greatest gain allowed: the filter's is 1, so the lower side binds",
                t.pass_ratio[1]);
        }
        add("δs", "greatest gain in the stopband", ratio_from_db(-f.stop_attenuation_db));
        add("As", "−20 log10 δs", f.stop_attenuation_db, "dB");
        add("εp", "√(10^(Ap/10) − 1)", f.pass_ripple_factor);
        add("εs", "√(10^(As/10) − 1)", f.stop_ripple_factor);
    }

    void add_edges(const char* letter, const std::array<double, 2>& hz,
                   const std::array<double, 2>& rad_per_s, const char* meaning) {
        const bool is_warped = !s_.axis.is_analog() && s_.spec.mapping == PlaneMapping::bilinear;
        for (std::size_t i = 0; i < (has_two_edges(s_.plan.band) ? 2U : 1U); ++i) {
            const std::string name =
                has_two_edges(s_.plan.band) ? fmt::format("{}{}", letter, i + 1) : letter;
            add("f" + name, meaning, hz[i], "Hz");
            if (!s_.axis.is_analog()) {
                add("ω" + name, fmt::format("2π f{} / fs", name), s_.axis.rad_per_sample(hz[i]),
                    "rad/sample");
            }
            add("Ω" + name,
                is_warped ? fmt::format("2 fs tan(ω{} / 2), prewarped", name)
                          : fmt::format("2π f{}", name),
                rad_per_s[i], "rad/s");
        }
    }

    void edges() {
        begin("Edges");
        if (!s_.axis.is_analog()) {
            add("fs", "sample rate", s_.axis.sample_rate_hz, "Hz");
        }
        if (const auto& f = s_.plan.found) {
            add_edges("p", s_.spec.tolerances.pass_edges_hz, f->pass_rad_per_s, "pass edge");
            add_edges("s", s_.spec.tolerances.stop_edges_hz, f->stop_rad_per_s, "stop edge");
        } else {
            add_edges("c", s_.spec.edges_hz, s_.plan.edges_rad_per_s, "edge");
        }
    }

    void order(const FoundOrder& f) {
        begin("Order");
        if (has_two_edges(s_.plan.band)) {
            add("Ω0", "√(Ωp1 Ωp2), middle", std::sqrt(f.pass_rad_per_s[0] * f.pass_rad_per_s[1]),
                "rad/s");
            add("B", "Ωp2 − Ωp1, width", f.pass_rad_per_s[1] - f.pass_rad_per_s[0], "rad/s");
        }
        add("Ωs/Ωp",
            has_two_edges(s_.plan.band)
                ? fmt::format("stop edge of the low-pass prototype, by Ωs{}", f.deciding_edge + 1)
                : "stop edge of the low-pass prototype",
            f.stop_edge);
        add("k", "Ωp/Ωs, selectivity", 1 / f.stop_edge);
        add("k1", "εp/εs, discrimination", f.pass_ripple_factor / f.stop_ripple_factor);
        if (f.unrounded) {
            add("n", formula_of(s_.plan.family), *f.unrounded);
        }
        add("N",
            f.unrounded ? (s_.plan.family == Family::linkwitz_riley ? "rounded up to an even order"
                                                                    : "rounded up")
                        : "found by search: the least order that suffices",
            s_.plan.order);
        left_over();
    }

    static const char* formula_of(Family family) {
        switch (family) {
        case Family::butterworth:
            return "log(εs/εp) / log(Ωs/Ωp)";
        case Family::elliptic:
            return "K(k) K'(k1) / (K'(k) K(k1))";
        case Family::linkwitz_riley:
            return "log((1/δs − 1) / (1/δp − 1)) / log(Ωs/Ωp)";
        default:
            return "arcosh(εs/εp) / arcosh(Ωs/Ωp)";
        }
    }

    // What rounding up was spent on, and what it comes to.
    void left_over() {
        begin("After rounding");
        if (has_pass_ripple(s_.plan.family)) {
            add("Ap", "ripple", s_.plan.pass_ripple_db, "dB");
        }
        if (has_stop_attenuation(s_.plan.family)) {
            add("As", "attenuation", s_.plan.stop_attenuation_db, "dB");
        }
        for (std::size_t i = 0; i < (has_two_edges(s_.plan.band) ? 2U : 1U); ++i) {
            add(has_two_edges(s_.plan.band) ? fmt::format("Ωc{}", i + 1) : "Ωc",
                "edge of the filter", s_.plan.edges_rad_per_s[i], "rad/s");
            add(has_two_edges(s_.plan.band) ? fmt::format("fc{}", i + 1) : "fc",
                "the same as a frequency",
                edge_hz(s_.plan.edges_rad_per_s[i], s_.spec.mapping, s_.axis), "Hz");
        }
    }

    void elliptic() {
        begin("Elliptic moduli");
        const EllipticModulus k1 = modulus_of(ripple_factor_of(s_.plan.pass_ripple_db)
                                              / ripple_factor_of(s_.plan.stop_attenuation_db));
        const EllipticModulus k = selectivity_of(s_.plan.order, k1);
        for (const auto& [name, m] : {std::pair{"k", k}, {"k1", k1}}) {
            add(name, name[1] == 0 ? "modulus: K'(k)/K(k) = K'(k1)/(N K(k1))" : "εp/εs", m.k);
            add(fmt::format("{}'", name), fmt::format("√(1 − {}²)", name), m.complement);
            add(fmt::format("K({})", name), "quarter period", quarter_period(m));
            add(fmt::format("K'({})", name), "complementary quarter period",
                quarter_period({m.complement, m.k}));
        }
    }

    void add_roots(const char* letter, const std::vector<Complex>& roots, bool are_poles) {
        int number = 0;
        for (const Complex& root : roots) {
            if (root.imag() < 0) {
                continue;
            }
            const std::string name = fmt::format("{}{}", letter, ++number);
            const bool is_pair = root.imag() > 0;
            add("Re " + name, is_pair ? "and its conjugate" : "real", root.real());
            add("Im " + name, "", root.imag());
            add("|" + name + "|", "radius", std::abs(root));
            add("∠" + name, "angle", deg_from_rad(std::arg(root)), "°");
            if (are_poles && is_pair) {
                add("Q" + name, "|p| / (−2 Re p)", std::abs(root) / (-2 * root.real()));
            }
        }
    }

    void prototype() {
        begin("Low-pass prototype, edge at 1 rad/s");
        add("N", "order", s_.plan.order);
        if (has_pass_ripple(s_.plan.family)) {
            add("εp", "ripple factor √(10^(Ap/10) − 1)", ripple_factor_of(s_.plan.pass_ripple_db));
        }
        if (has_stop_attenuation(s_.plan.family)) {
            add("εs", "√(10^(As/10) − 1)", ripple_factor_of(s_.plan.stop_attenuation_db));
        }
        add_roots("p", s_.prototype.poles, true);
        add_roots("z", s_.prototype.zeros, false);
        const bool is_corrected = has_pass_ripple(s_.plan.family) && s_.plan.order % 2 == 0;
        add("H(0)",
            is_corrected ? "1/√(1 + εp²): an even order begins at the foot of its ripple" : "",
            level_at_0(s_.plan));
        add("G", "gain of the numerator: H = G Π(s − z) / Π(s − p)", s_.prototype.gain);
    }

    void band() {
        if (!has_two_edges(s_.plan.band)) {
            return;
        }
        begin("Band");
        const auto& [low, high] = s_.plan.edges_rad_per_s;
        add("Ω0", "√(Ωc1 Ωc2)", std::sqrt(low * high), "rad/s");
        add("B", "Ωc2 − Ωc1", high - low, "rad/s");
        add("Q0", "Ω0/B", std::sqrt(low * high) / (high - low));
    }

    void sections() {
        const BandRoots roots =
            band_roots(s_.prototype, s_.plan.band, s_.plan.edges_rad_per_s, level_at_0(s_.plan));
        SectionDrafts drafts = analog_drafts(roots, s_.plan.band, s_.spec.sections.pairing);
        const SectionsMade analog =
            sections_of(std::move(drafts.drafts), s_.spec.sections, drafts.reference,
                        {s_.axis.sample_rate_hz, Domain::analog});
        const auto in_s = analog.filter.analog_sections();
        for (std::size_t i = 0; i < in_s->sections.size(); ++i) {
            begin(fmt::format("Section {} in s", i + 1));
            const AnalogSection& s = in_s->sections[i];
            add_polynomial("b", {s.b2, s.b1, s.b0}, order_of(s), "s");
            add_polynomial("a", {s.a2, s.a1, s.a0}, order_of(s), "s");
            add("Ω", "√a0", order_of(s) == 2 ? std::sqrt(s.a0 / s.a2) : s.a0 / s.a1, "rad/s");
            add("Q", "of the poles", analog.q[i]);
        }
        if (!s_.axis.is_analog()) {
            in_z();
        }
    }

    void add_polynomial(const char* letter, const std::array<double, 3>& by_power, int degree,
                        const char* variable) {
        for (int power = degree; power >= 0; --power) {
            add(fmt::format("{}{}", letter, power),
                power == 0 ? "" : fmt::format("of {}^{}", variable, power),
                by_power[static_cast<std::size_t>(2 - power)]);
        }
    }

    void in_z() {
        const auto cascade = s_.made.filter.sections();
        const auto peaks = peak_levels_db(s_.made.filter, s_.axis);
        for (std::size_t i = 0; i < cascade->sections.size(); ++i) {
            const Biquad& c = cascade->sections[i];
            begin(fmt::format("Section {} in z", i + 1));
            add("b0", "", c.b0);
            add("b1", "of z^−1", c.b1);
            add("b2", "of z^−2", c.b2);
            add("a1", "of z^−1", c.a1);
            add("a2", "of z^−2", c.a2);
            add("peak", "greatest level after this section", peaks[i], "dB");
        }
    }

    void product() {
        const auto& rational = s_.made.filter.rational();
        if (!rational) {
            return;
        }
        const Coefficients c = coefficients_of(*rational);
        const bool is_analog = s_.axis.is_analog();
        const double unit = is_analog ? analog_unit_rad_per_s : 1;
        begin(is_analog ? "The product as one polynomial over another, s by 2π · 1 kHz: of order "
                          "10 and more it holds less than the sections"
                        : "The product as one polynomial over another: of order 10 and more it "
                          "holds less than the sections");
        for (const auto& [letter, values] : {std::pair{"B", &c.numerator}, {"A", &c.denominator}}) {
            for (std::size_t k = 0; k < values->size(); ++k) {
                add(fmt::format("{}{}", letter, k),
                    is_analog ? fmt::format("of (s/{:.6g})^−{}", unit, k)
                              : fmt::format("of z^−{}", k),
                    (*values)[k]);
            }
        }
    }

    const ClassicalSteps& s_;
    std::vector<WorkingStep> steps_;
};

std::string method_of(const ClassicalSteps& s) {
    std::string text;
    switch (s.plan.family) {
    case Family::elliptic:
        text = "Elliptic functions by Landen transformations (Lecture Notes on Elliptic Filter "
               "Design, 2006)";
        break;
    case Family::bessel:
        text = "Delay networks having maximally flat frequency characteristics, 1949";
        break;
    case Family::legendre:
        text = "Optimum filters with monotonic response, 1958";
        break;
    case Family::gaussian:
        text = "Filtering in the Time and Frequency Domains, 1976, section 3.7";
        break;
    default:
        text = "Discrete-Time Signal Processing, 3rd edition, 2009, appendix B";
        break;
    }
    return text;
}

} // namespace

Working classical_working(const ClassicalSteps& steps) {
    return {method_of(steps), Steps(steps).all()};
}

} // namespace syntonon
