// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/plot/lane_menus.h"

#include "app/plot/lane_stack.h"
#include "app/widgets/shown_number.h"
#include "app/widgets/words.h"

#include <QActionGroup>
#include <QMenu>

namespace syntonon {
namespace {

// One of several: `set` changes the view to this choice.
template <class Set>
void add_choice(QMenu& menu, LaneStack& lanes, const QString& text, bool chosen, Set set) {
    QAction* action = menu.addAction(text);
    action->setCheckable(true);
    action->setChecked(chosen);
    QObject::connect(action, &QAction::triggered, &lanes, [&lanes, set] {
        LaneView view = lanes.view();
        set(view);
        lanes.change_view(view);
    });
}

template <class T>
struct Choice {
    T value;
    QString text;
};

template <class T>
void add_choices(QMenu& menu, LaneStack& lanes, T LaneView::*member,
                 const std::vector<Choice<T>>& choices) {
    for (const auto& [value, text] : choices) {
        add_choice(menu, lanes, text, lanes.view().*member == value,
                   [member, value = value](LaneView& view) { view.*member = value; });
    }
    menu.addSeparator();
}

void add_ranges(QMenu& menu, LaneStack& lanes, Lane lane, const std::vector<LaneRange>& ranges,
                const QString& unit) {
    for (const LaneRange& range : ranges) {
        QAction* action =
            menu.addAction(QStringLiteral("%1 … %2 %3")
                               .arg(shown_number(range.low, 6), shown_number(range.high, 6), unit));
        action->setCheckable(true);
        action->setChecked(lanes.range(lane) == range);
        QObject::connect(action, &QAction::triggered, &lanes,
                         [&lanes, lane, range] { lanes.change_range(lane, range); });
    }
}

void fill_phase_menu(QMenu& menu, LaneStack& lanes) {
    add_choices<bool>(menu, lanes, &LaneView::radians,
                      {{false, tr("in degrees")}, {true, tr("in radians")}});
    add_choices<bool>(menu, lanes, &LaneView::unwrapped,
                      {{false, tr("wrapped to half a turn")}, {true, tr("unwrapped")}});
    add_ranges(
        menu, lanes, Lane::phase,
        {{-180, 180, 90}, {-45, 45, 15}, {-360, 360, 180}, {-1080, 360, 360}, {-3600, 360, 720}},
        QStringLiteral("°"));
}

void fill_delay_menu(QMenu& menu, LaneStack& lanes) {
    add_choices<DelayKind>(
        menu, lanes, &LaneView::delay,
        {{DelayKind::group, tr("group delay")}, {DelayKind::phase, tr("phase delay")}});
    add_choices<TimeUnit>(menu, lanes, &LaneView::delay_unit,
                          {{TimeUnit::ms, tr("in milliseconds")},
                           {TimeUnit::samples, tr("in samples")},
                           {TimeUnit::s, tr("in seconds")}});
    add_ranges(menu, lanes, Lane::delay,
               {{-0.5, 2, 0.5}, {-1, 5, 1}, {-5, 20, 5}, {-10, 50, 10}, {-50, 200, 50}}, tr("ms"));
}

} // namespace

void fill_frequency_menu(QMenu& menu, LaneStack& lanes) {
    menu.clear();
    std::vector<Choice<AxisUnit>> units;
    for (const AxisUnit unit : {AxisUnit::hz, AxisUnit::rad_per_s, AxisUnit::rad_per_sample,
                                AxisUnit::of_sample_rate, AxisUnit::of_nyquist}) {
        units.push_back({unit, tr("in %1").arg(title_of(unit))});
    }
    add_choices<AxisUnit>(menu, lanes, &LaneView::frequency_unit, units);
    add_choices<bool>(menu, lanes, &LaneView::linear_frequency,
                      {{false, tr("logarithmic")}, {true, tr("linear")}});
    add_choices<FrequencySpan>(menu, lanes, &LaneView::span,
                               {{FrequencySpan::to_nyquist, tr("up to Nyquist")},
                                {FrequencySpan::two_sided, tr("two-sided, −Nyquist to Nyquist")},
                                {FrequencySpan::mirrored, tr("on to the sample rate, mirrored")}});
    menu.addAction(tr("Zoom back"), &lanes, &LaneStack::zoom_back);
    menu.addAction(tr("Zoom home"), &lanes, &LaneStack::zoom_home);
}

void fill_lane_menu(QMenu& menu, LaneStack& lanes, Lane lane) {
    menu.clear();
    switch (lane) {
    case Lane::magnitude:
        add_choices<LevelScale>(menu, lanes, &LaneView::level,
                                {{LevelScale::db, tr("in dB")},
                                 {LevelScale::ratio, tr("as a ratio, logarithmic")},
                                 {LevelScale::linear_ratio, tr("as a ratio, linear")}});
        add_ranges(menu, lanes, lane,
                   {{-1, 1, 0.5},
                    {-6, 6, 2},
                    {-12, 12, 3},
                    {-18, 18, 6},
                    {-30, 30, 10},
                    {-60, 20, 20},
                    {-120, 20, 20},
                    {30, 100, 10}},
                   tr("dB"));
        menu.addSeparator();
        add_choices<bool>(
            menu, lanes, &LaneView::marks,
            {{true, tr("notches and peaks of networks marked")}, {false, tr("without marks")}});
        break;
    case Lane::weight:
        for (const double decades : {1.0, 2.0, 4.0}) {
            QAction* action = menu.addAction(
                tr("%1 … %2 times").arg(std::pow(10, -decades)).arg(std::pow(10, decades)));
            QObject::connect(action, &QAction::triggered, &lanes, [&lanes, decades] {
                lanes.change_range(Lane::weight, {-decades, decades, 1});
            });
        }
        break;
    case Lane::phase:
        fill_phase_menu(menu, lanes);
        break;
    case Lane::delay:
        fill_delay_menu(menu, lanes);
        break;
    case Lane::roots:
        add_choices<RootWidth>(
            menu, lanes, &LaneView::root_width,
            {{RootWidth::decay, tr("decay to −60 dB")}, {RootWidth::bandwidth, tr("bandwidth")}});
        for (const auto& [text, range] : {std::pair{tr("0.3 ms … growing"), LaneRange{-3.5, 3, 1}},
                                          {tr("10 ms … growing"), LaneRange{-2, 3, 1}},
                                          {tr("10 µs … growing"), LaneRange{-5, 4, 1}}}) {
            QObject::connect(menu.addAction(text), &QAction::triggered, &lanes,
                             [&lanes, range = range] { lanes.change_range(Lane::roots, range); });
        }
        break;
    }
}

void fill_lanes_menu(QMenu& menu, LaneStack& lanes) {
    menu.clear();
    for (const Lane lane : all_lanes) {
        if (lane == Lane::roots && !lanes.has_grips()) {
            continue; // measured curves have none
        }
        const bool shown = lanes.view().shows(lane);
        add_choice(menu, lanes, title_of(lane), shown,
                   [lane, shown](LaneView& view) { view.show(lane, !shown); });
    }
}

void fill_curves_menu(QMenu& menu, LaneStack& lanes) {
    menu.clear();
    for (const CurveName& curve : lanes.curves().curves()) {
        QAction* action = menu.addAction(curve.name);
        action->setCheckable(true);
        action->setChecked(lanes.curves().is_shown(curve.key));
        QObject::connect(action, &QAction::triggered, &lanes,
                         [&lanes, key = curve.key](bool on) { lanes.show_curve(key, on); });
    }
    QMenu* alone = menu.addMenu(tr("Alone"));
    for (const CurveName& curve : lanes.curves().curves()) {
        alone->addAction(curve.name, &lanes, [&lanes, key = curve.key] { lanes.show_alone(key); });
    }
    QAction* all = menu.addAction(tr("All again"), &lanes, [&lanes] { lanes.show_alone({}); });
    all->setEnabled(lanes.curves().alone().has_value());
}

} // namespace syntonon
