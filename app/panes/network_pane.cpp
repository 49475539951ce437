// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/network_pane.h"

#include "app/plot/lane_stack.h"
#include "app/widgets/theme.h"
#include "core/base/number_text.h"
#include "core/base/units.h"
#include "core/filter/rational.h"
#include "core/study/kinds.h"
#include "core/study/part_curves.h"

#include <QHeaderView>
#include <QScopedValueRollback>
#include <QTreeWidget>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

constexpr int key_role = Qt::UserRole, hz_role = Qt::UserRole + 1;
constexpr std::size_t most_listed = 64;

QString decibels(double db) {
    return std::isinf(db) ? QStringLiteral("−∞ dB")
                          : QString::fromStdString(signed_text(db, 2)) + QObject::tr(" dB");
}

QString number(double value, int digits = 10) {
    return QString::fromStdString(text_with_digits(value, digits))
        .replace('-', QStringLiteral("−"));
}

QString frequency(double hz, int digits = 4) {
    return QString::fromStdString(frequency_text(hz, digits));
}

QTreeWidgetItem* row(const QString& name, const QString& value, const QString& note = {}) {
    auto* item = new QTreeWidgetItem({name, value, note});
    item->setTextAlignment(1, Qt::AlignRight | Qt::AlignVCenter);
    item->setForeground(2, theme().soft);
    item->setToolTip(0, name);
    item->setToolTip(2, note);
    return item;
}

QTreeWidgetItem* place_row(const QString& name, const LevelExtremum& extremum, int digits = 4) {
    auto* item = row(name, decibels(extremum.level_db), frequency(extremum.hz, digits));
    item->setData(0, hz_role, extremum.hz);
    return item;
}

// The highest peak and the deepest dip, ends of the range included.
struct Swing {
    LevelExtremum highest, deepest;
};

Swing swing_of(const Filter& filter, double low_hz, double high_hz, double rate) {
    const Probe probe(filter, rate);
    Swing found{{low_hz, probe.level_db(low_hz), true}, {low_hz, probe.level_db(low_hz), false}};
    LevelExtrema all = level_extrema(filter, {low_hz, high_hz, rate});
    all.found.push_back({high_hz, probe.level_db(high_hz), true});
    for (const LevelExtremum& one : all.found) {
        found.highest = one.level_db > found.highest.level_db ? one : found.highest;
        found.deepest = one.level_db < found.deepest.level_db ? one : found.deepest;
    }
    return found;
}

// "1.3 y[n−12]"
QString term(double factor, const QString& signal, std::size_t delay, bool first) {
    const QString sign = factor < 0 ? QStringLiteral(" − ")
                         : first    ? QString()
                                    : QStringLiteral(" + ");
    const QString size =
        std::abs(factor) == 1 ? QString() : number(std::abs(factor), 6) + QStringLiteral(" ");
    const QString at = delay == 0 ? QStringLiteral("[n]") : QStringLiteral("[n−%1]").arg(delay);
    return sign + size + signal + at;
}

std::vector<std::size_t> there(const std::vector<double>& coefficients) {
    std::vector<std::size_t> indices;
    for (std::size_t k = 0; k < coefficients.size(); ++k) {
        if (coefficients[k] != 0) {
            indices.push_back(k);
        }
    }
    return indices;
}

} // namespace

NetworkPane::NetworkPane(Session& session, LaneStack& lanes, QWidget* parent)
    : QWidget(parent), session_(session), lanes_(lanes), tree_(new QTreeWidget) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(16, 8, 16, 8);
    column->addWidget(tree_, 1);
    tree_->setColumnCount(3);
    tree_->setHeaderHidden(true);
    tree_->header()->setSectionResizeMode(2, QHeaderView::Stretch);
    tree_->header()->resizeSection(0, 146);
    tree_->header()->resizeSection(1, 84);
    tree_->setIndentation(10);
    tree_->setRootIsDecorated(true);
    tree_->setAccessibleName(tr("Network: what is to be known of it"));
    connect(tree_, &QTreeWidget::itemChanged, this, &NetworkPane::take_check);
    connect(tree_, &QTreeWidget::itemClicked, this, &NetworkPane::take_click);
    connect(tree_, &QTreeWidget::itemActivated, this, &NetworkPane::take_click);
    connect(&session_, &Session::analysis_changed, this, &NetworkPane::refresh);
    connect(&session_, &Session::selection_changed, this, &NetworkPane::refresh);
    connect(&lanes_, &LaneStack::curves_chosen, this, &NetworkPane::refresh_curves);
}

void NetworkPane::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    refresh();
}

QTreeWidgetItem* NetworkPane::add_section(const QString& title) {
    auto* item = new QTreeWidgetItem({title});
    item->setFont(0, text_font(12, QFont::DemiBold));
    tree_->addTopLevelItem(item);
    item->setFirstColumnSpanned(true);
    item->setExpanded(true);
    return item;
}

void NetworkPane::refresh() {
    const Stage* network = session_.network();
    if (!isVisible() || network == nullptr) {
        return;
    }
    if (shown_ == session_.analysis() && shown_stage_ == session_.selection().stage) {
        return;
    }
    shown_ = session_.analysis();
    shown_stage_ = session_.selection().stage;
    const QScopedValueRollback filling(is_filling_, true);
    // What was folded up stays so, and the place in the list is kept while something is dragged.
    QStringList folded;
    for (int i = 0; i < tree_->topLevelItemCount(); ++i) {
        if (!tree_->topLevelItem(i)->isExpanded()) {
            folded << tree_->topLevelItem(i)->text(0);
        }
    }
    tree_->clear();
    const StageAnalysis* designed = shown_->stage(network->id);
    if (designed == nullptr || !designed->filter) {
        auto* section = add_section(QString::fromStdString(title_of(*network)));
        section->addChild(new QTreeWidgetItem(
            {designed != nullptr ? QString::fromStdString(designed->filter.error().reason)
                                 : QString()}));
        return;
    }
    add_curves();
    add_identities();
    add_stability(*designed->filter);
    add_wet_and_dry(*designed->filter);
    add_extrema();
    add_equation(*designed->filter);
    for (int i = 0; i < tree_->topLevelItemCount(); ++i) {
        tree_->topLevelItem(i)->setExpanded(!folded.contains(tree_->topLevelItem(i)->text(0)));
    }
}

void NetworkPane::add_curves() {
    auto* section = add_section(tr("Curves of its parts"));
    for (const CurveName& curve : lanes_.curves().curves()) {
        if (!curve.key.startsWith(QLatin1String("part:"))) {
            continue;
        }
        auto* item = new QTreeWidgetItem({curve.name});
        item->setData(0, key_role, curve.key);
        item->setFlags(item->flags() | Qt::ItemIsUserCheckable);
        item->setCheckState(0, lanes_.curves().is_shown(curve.key) ? Qt::Checked : Qt::Unchecked);
        section->addChild(item);
        item->setFirstColumnSpanned(true);
    }
    if (section->childCount() == 0) {
        delete section;
    }
}

void NetworkPane::refresh_curves() {
    const QScopedValueRollback filling(is_filling_, true);
    for (int i = 0; i < tree_->topLevelItemCount(); ++i) {
        for (int k = 0; k < tree_->topLevelItem(i)->childCount(); ++k) {
            QTreeWidgetItem* item = tree_->topLevelItem(i)->child(k);
            const QString key = item->data(0, key_role).toString();
            if (!key.isEmpty()) {
                item->setCheckState(0, lanes_.curves().is_shown(key) ? Qt::Checked : Qt::Unchecked);
            }
        }
    }
}

void NetworkPane::take_check(QTreeWidgetItem* item) {
    const QString key = item->data(0, key_role).toString();
    if (!is_filling_ && !key.isEmpty()) {
        lanes_.show_curve(key, item->checkState(0) == Qt::Checked);
    }
}

// A frequency in the list is where the plumb line goes.
void NetworkPane::take_click(QTreeWidgetItem* item) {
    const QVariant hz = item->data(0, hz_role);
    if (hz.isValid()) {
        session_.plumb().set(hz.toDouble());
        session_.plumb().pin(true);
    }
}

void NetworkPane::add_stability(const Filter& filter) {
    const auto& stability = filter.stability();
    if (stability && !stability->margin) {
        return; // no loop
    }
    auto* section = add_section(tr("Round the loop"));
    if (!stability) {
        section->addChild(
            row(tr("not known"), {}, QString::fromStdString(stability.error().reason)));
        return;
    }
    const LoopMargin& margin = *stability->margin;
    const double rate = session_.study().sample_rate_hz;
    const auto add = [&](const QString& name, double gain, double turns) {
        auto* item = row(name, decibels(db_from_ratio(gain)),
                         tr("× %1 at %2").arg(number(gain, 5), frequency(turns * rate)));
        item->setData(0, hz_role, turns * rate);
        section->addChild(item);
    };
    if (!stability->is_stable()) {
        section->addChild(
            row(tr("unstable"), {},
                tr("%1 poles outside the circle or on it").arg(stability->poles_outside)));
        add(tr("gain must change by"), margin.most_gain, margin.most_gain_turns);
        return;
    }
    if (std::isfinite(margin.most_gain)) {
        add(tr("gain may rise by"), margin.most_gain, margin.most_gain_turns);
    } else {
        section->addChild(row(tr("gain may rise by"), tr("any"), tr("no critical phase")));
    }
    if (margin.least_gain > 0) {
        add(tr("gain may fall by"), margin.least_gain, margin.least_gain_turns);
    }
    if (margin.phase_rad) {
        auto* item = row(tr("phase may turn by"), number(deg_from_rad(*margin.phase_rad), 4) + "°",
                         tr("at %1, where it is 0 dB").arg(frequency(margin.phase_turns * rate)));
        item->setData(0, hz_role, margin.phase_turns * rate);
        section->addChild(item);
    } else {
        section->addChild(row(tr("phase may turn by"), tr("any"), tr("it nowhere reaches 0 dB")));
    }
}

void NetworkPane::add_wet_and_dry(const Filter& filter) {
    const auto parts = part_curves(filter);
    const auto difference = std::ranges::find(parts, "difference", &PartCurve::key);
    if (difference == parts.end()) {
        return;
    }
    const double rate = shown_->grid->sample_rate_hz(), high = nyquist_hz(rate);
    const double low = shown_->grid->frequency_hz().front();
    const Swing sum = swing_of(filter, low, high, rate),
                less = swing_of(difference->filter, low, high, rate);
    auto* section = add_section(tr("Both branches"));
    section->addChild(place_row(tr("sum, highest"), sum.highest));
    section->addChild(place_row(tr("sum, deepest"), sum.deepest));
    section->addChild(row(tr("depth"),
                          decibels(sum.highest.level_db - sum.deepest.level_db).remove('+'),
                          tr("from highest to deepest")));
    section->addChild(place_row(tr("difference, highest"), less.highest));
    section->addChild(place_row(tr("difference, deepest"), less.deepest));
}

void NetworkPane::add_identities() {
    const auto& identities = session_.facts().identities();
    if (identities.empty()) {
        return;
    }
    auto* section = add_section(tr("Holds exactly"));
    for (const Identity& identity : identities) {
        auto* item = new QTreeWidgetItem({QString::fromStdString(identity.words)});
        item->setToolTip(0, item->text(0));
        section->addChild(item);
        item->setFirstColumnSpanned(true);
    }
}

void NetworkPane::add_extrema() {
    const LevelExtrema& all = session_.facts().extrema();
    if (all.found.empty()) {
        return;
    }
    const auto dips = std::ranges::count(all.found, false, &LevelExtremum::is_peak);
    const auto peaks = static_cast<std::ptrdiff_t>(all.found.size()) - dips;
    auto* section =
        add_section(all.is_complete ? tr("Of the chain: %1 notches, %2 peaks").arg(dips).arg(peaks)
                                    : tr("Of the chain: the lowest of many notches and peaks"));
    for (std::size_t i = 0; i < std::min(all.found.size(), most_listed); ++i) {
        section->addChild(place_row(all.found[i].is_peak ? tr("peak") : tr("notch"), all.found[i],
                                    all.is_complete ? 4 : 9)); // close together
    }
    if (all.found.size() > most_listed) {
        section->addChild(row(tr("and %1 more").arg(all.found.size() - most_listed), {}));
    }
}

void NetworkPane::add_equation(const Filter& filter) {
    auto* section = add_section(tr("As one equation"));
    const auto& rational = filter.rational();
    if (!rational) {
        section->addChild(
            row(tr("not written out"), {}, QString::fromStdString(rational.error().reason)));
        return;
    }
    const Coefficients all = coefficients_of(*rational);
    const auto b = there(all.numerator), a = there(all.denominator);
    if (b.size() + a.size() > most_listed) {
        section->addChild(row(tr("not written out"), {},
                              tr("%1 coefficients that are not 0").arg(b.size() + a.size())));
        return;
    }
    QString equation;
    for (const std::size_t k : b) {
        equation += term(all.numerator[k], "x", k, equation.isEmpty());
    }
    for (const std::size_t k : a) {
        equation += k > 0 ? term(-all.denominator[k], "y", k, equation.isEmpty()) : QString();
    }
    auto* line = new QTreeWidgetItem({QStringLiteral("y[n] = ") + equation});
    line->setToolTip(0, line->text(0));
    section->addChild(line);
    line->setFirstColumnSpanned(true);
    for (const std::size_t k : b) {
        section->addChild(row(QStringLiteral("b[%1]").arg(k), number(all.numerator[k], 8),
                              k == 0 ? tr("of x[n]") : tr("of x[n−%1]").arg(k)));
    }
    for (const std::size_t k : a) {
        section->addChild(row(QStringLiteral("a[%1]").arg(k), number(all.denominator[k], 8),
                              k == 0 ? tr("of y[n]") : tr("of y[n−%1], to the left side").arg(k)));
    }
}

} // namespace syntonon
