// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/network_rows.h"

#include "app/widgets/shown_number.h"
#include "app/widgets/words.h"
#include "core/base/number_text.h"
#include "core/base/units.h"
#include "core/filter/rational.h"
#include "core/study/part_curves.h"

#include <algorithm>
#include <cmath>
#include <utility>

namespace syntonon {
namespace {

constexpr std::size_t most_listed = 40;

QString words(const std::string& text) {
    return QString::fromStdString(text);
}

QString decibels(double db) {
    return std::isinf(db) ? QStringLiteral("−∞ dB") : words(signed_text(db, 2)) + tr(" dB");
}

QString number(double value, int digits) {
    return shown_number(value, digits);
}

QString frequency(double hz, int digits = 4) {
    return words(frequency_text(hz, digits));
}

NetworkRow row_of(const QString& name, const LevelExtremum& extremum, int digits = 4) {
    return {name, decibels(extremum.level_db), frequency(extremum.hz, digits), extremum.hz};
}

// The highest peak and the deepest dip, ends of the range included.
struct Swing {
    LevelExtremum highest, deepest;
};

Swing swing_of(const Filter& filter, double low_hz, double high_hz, const Axis& axis) {
    const Probe probe(filter, axis);
    Swing found{{low_hz, probe.level_db(low_hz), true}, {low_hz, probe.level_db(low_hz), false}};
    LevelExtrema all = level_extrema(filter, {low_hz, high_hz, axis});
    all.found.push_back({high_hz, probe.level_db(high_hz), true});
    for (const LevelExtremum& one : all.found) {
        found.highest = one.level_db > found.highest.level_db ? one : found.highest;
        found.deepest = one.level_db < found.deepest.level_db ? one : found.deepest;
    }
    return found;
}

// " + 1.3 y[n−12]"
QString term(double factor, const QString& signal, std::size_t delay, bool first) {
    const QString sign = factor < 0 ? QStringLiteral(" − ")
                         : first    ? QString()
                                    : QStringLiteral(" + ");
    const QString size =
        std::abs(factor) == 1 ? QString() : number(std::abs(factor), 6) + QStringLiteral(" ");
    const QString at = delay == 0 ? QStringLiteral("[n]") : QStringLiteral("[n−%1]").arg(delay);
    return sign + size + signal + at;
}

std::vector<std::size_t> places_of_what_is_there(const std::vector<double>& coefficients) {
    std::vector<std::size_t> places;
    for (std::size_t k = 0; k < coefficients.size(); ++k) {
        if (coefficients[k] != 0) {
            places.push_back(k);
        }
    }
    return places;
}

NetworkSection curves_of(const LaneContent& curves) {
    NetworkSection section{tr("Curves of its parts"), {}};
    for (const CurveName& curve : curves.curves()) {
        if (curve.key.startsWith(QLatin1String("part:"))) {
            section.rows.push_back({curve.name, {}, {}, {}, curve.key});
        }
    }
    return section;
}

NetworkSection identities_in(Session& session) {
    NetworkSection section{tr("Holds exactly"), {}};
    for (const Identity& identity : session.facts().identities()) {
        section.rows.push_back({words(identity.words)});
    }
    return section;
}

NetworkSection margins_of(const Filter& filter, const Axis& axis) {
    NetworkSection section{tr("Round the loop"), {}};
    const auto& stability = filter.stability();
    if (!stability) {
        section.rows.push_back({tr("not known"), {}, words(stability.error().reason)});
    }
    if (!stability || !stability->margin) {
        return section;
    }
    const LoopMargin& margin = *stability->margin;
    const auto add_gain = [&](const QString& name, double gain, double turns) {
        section.rows.push_back(
            {name, decibels(db_from_ratio(gain)),
             tr("× %1 at %2").arg(number(gain, 5), frequency(hz_of_turns(turns, axis))),
             hz_of_turns(turns, axis)});
    };
    if (!stability->is_stable()) {
        section.rows.push_back(
            {tr("unstable"),
             {},
             (axis.is_analog() ? tr("%1 poles right of the imaginary axis or on it")
                               : tr("%1 poles outside the circle or on it"))
                 .arg(stability->poles_outside)});
        add_gain(tr("gain must change by"), margin.most_gain, margin.most_gain_turns);
        return section;
    }
    if (std::isfinite(margin.most_gain)) {
        add_gain(tr("gain may rise by"), margin.most_gain, margin.most_gain_turns);
    } else {
        section.rows.push_back({tr("gain may rise by"), tr("any"), tr("no critical phase")});
    }
    if (margin.least_gain > 0) {
        add_gain(tr("gain may fall by"), margin.least_gain, margin.least_gain_turns);
    }
    const double phase_hz = hz_of_turns(margin.phase_turns, axis);
    section.rows.push_back(
        margin.phase_rad
            ? NetworkRow{tr("phase may turn by"), number(deg_from_rad(*margin.phase_rad), 4) + "°",
                         tr("at %1, where it is 0 dB").arg(frequency(phase_hz)), phase_hz}
            : NetworkRow{tr("phase may turn by"), tr("any"), tr("it nowhere reaches 0 dB")});
    return section;
}

NetworkSection sum_and_difference_of(const Filter& filter, const ChannelAnalysis& analysis) {
    NetworkSection section{tr("Both branches"), {}};
    const auto parts = part_curves(filter);
    const auto difference = std::ranges::find(parts, "difference", &PartCurve::key);
    if (difference == parts.end()) {
        return section;
    }
    const Axis& axis = analysis.grid->axis();
    const double low = analysis.grid->frequency_hz().front(),
                 high = analysis.grid->frequency_hz().back();
    if (!level_extrema(filter, {low, high, axis}).is_complete) {
        section.rows = {{tr("not looked for"), {}, tr("more ripples than are listed")}};
        return section;
    }
    const Swing sum = swing_of(filter, low, high, axis),
                less = swing_of(difference->filter, low, high, axis);
    const double depth = sum.highest.level_db - sum.deepest.level_db;
    section.rows = {
        row_of(tr("sum, highest"), sum.highest),
        row_of(tr("sum, deepest"), sum.deepest),
        {tr("depth"),
         std::isinf(depth) ? tr("∞ dB") : number(std::round(depth * 100) / 100, 6) + tr(" dB"),
         tr("from highest to deepest")},
        row_of(tr("difference, highest"), less.highest),
        row_of(tr("difference, deepest"), less.deepest)};
    return section;
}

NetworkSection extrema_in(Session& session) {
    const LevelExtrema& all = session.facts().extrema();
    const auto dips = std::ranges::count(all.found, false, &LevelExtremum::is_peak);
    const auto peaks = static_cast<std::ptrdiff_t>(all.found.size()) - dips;
    NetworkSection section{all.is_complete
                               ? tr("Of the chain: %1 notches, %2 peaks").arg(dips).arg(peaks)
                               : tr("Of the chain: the lowest of many notches and peaks"),
                           {}};
    const int digits = all.is_complete ? 4 : 9; // those stand close together
    for (std::size_t i = 0; i < std::min(all.found.size(), most_listed); ++i) {
        section.rows.push_back(
            row_of(all.found[i].is_peak ? tr("peak") : tr("notch"), all.found[i], digits));
    }
    if (all.found.size() > most_listed) {
        section.rows.push_back({tr("and %1 more").arg(all.found.size() - most_listed)});
    }
    return section;
}

// At least so many coefficients will not be 0: each root adds one, and so do a sum's own.
std::size_t terms_in(const PolynomialProduct& product) {
    std::size_t count = product.roots.size();
    for (const auto& sum : product.sums) {
        count += places_of_what_is_there(sum->coefficients()).size();
    }
    return count;
}

NetworkSection equation_of(const Filter& filter) {
    NetworkSection section{tr("As one equation"), {}};
    const auto& rational = filter.rational();
    if (!rational) {
        section.rows.push_back({tr("not written out"), {}, words(rational.error().reason)});
        return section;
    }
    const bool is_long =
        std::max(terms_in(rational->numerator), terms_in(rational->denominator)) > most_listed;
    const Coefficients all = is_long ? Coefficients{} : coefficients_of(*rational);
    const auto b = places_of_what_is_there(all.numerator),
               a = places_of_what_is_there(all.denominator);
    if (is_long || b.size() + a.size() > most_listed) {
        section.rows.push_back({tr("not written out"), {}, tr("too many coefficients")});
        return section;
    }
    QString equation;
    for (const std::size_t k : b) {
        equation += term(all.numerator[k], "x", k, equation.isEmpty());
    }
    for (const std::size_t k : a) {
        equation += k > 0 ? term(-all.denominator[k], "y", k, equation.isEmpty()) : QString();
    }
    section.rows.push_back({QStringLiteral("y[n] = ") + equation});
    for (const std::size_t k : b) {
        section.rows.push_back({QStringLiteral("b[%1]").arg(k), number(all.numerator[k], 8),
                                k == 0 ? tr("of x[n]") : tr("of x[n−%1]").arg(k)});
    }
    for (const std::size_t k : a) {
        section.rows.push_back(
            {QStringLiteral("a[%1]").arg(k), number(all.denominator[k], 8),
             k == 0 ? tr("of y[n]") : tr("of y[n−%1], to the left side").arg(k)});
    }
    return section;
}

} // namespace

std::vector<NetworkSection> network_sections(Session& session, const Stage& network,
                                             const LaneContent& curves) {
    const auto analysis = session.analysis();
    const StageAnalysis* designed = analysis->stage(network.id);
    if (designed == nullptr) {
        return {};
    }
    if (!designed->filter) {
        return {{words(title_of(network)), {{words(to_text(designed->filter.error()))}}}};
    }
    const Filter& filter = *designed->filter;
    std::vector<NetworkSection> all{curves_of(curves),
                                    identities_in(session),
                                    margins_of(filter, session.axis()),
                                    sum_and_difference_of(filter, *analysis),
                                    extrema_in(session),
                                    equation_of(filter)};
    std::erase_if(all, [](const NetworkSection& section) { return section.rows.empty(); });
    return all;
}

} // namespace syntonon
