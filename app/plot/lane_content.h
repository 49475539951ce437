// What is drawn on lanes and what can be said of it: the chain's curves, or measured ones.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/plot/lane_plot.h"

#include <QColor>
#include <QString>
#include <functional>
#include <map>
#include <memory>
#include <optional>
#include <utility>
#include <vector>

namespace syntonon {

// A curve's name and where it is written, on the magnitude lane.
struct CurveLabel {
    QString key; // of the curve
    QString text;
    QColor colour;
    double hz = 0; // where the curve is named
    double level_db = 0;
    bool at_end = false; // at the lane's right side; else above the place
    bool above = true;
};

// A curve the user can name.
struct CurveName {
    QString key, name;
};

// A peak or notch to be marked at the magnitude lane's edge.
struct LaneMark {
    double hz = 0;
    bool is_peak = false;
    QString text;
};

struct ReadoutRow {
    QString name, value;
    QColor colour;
};

// Which curves the user wants to see; what is not mentioned is as the content has it by itself.
struct CurveChoices {
    std::map<QString, bool> shown;
    std::optional<QString> alone;

    bool operator==(const CurveChoices&) const = default;
};

class LaneContent {
public:
    LaneContent() = default;
    LaneContent(const LaneContent&) = delete;
    LaneContent& operator=(const LaneContent&) = delete;
    virtual ~LaneContent() = default;

    // Brings the curves up to date and redraws what moved.
    virtual void update() = 0;
    // After a change of theme, ranges, view or size.
    virtual void redraw_all() = 0;

    virtual std::vector<CurveName> curves() const = 0;
    virtual std::vector<CurveLabel> labels() const = 0;
    // The curve at a point of the lanes, and what it is, for a hint.
    virtual std::optional<CurveName> explained_at(const QPointF& point) const = 0;
    virtual QString title(Lane lane) const = 0;
    // What the upper edge of the weight lane means for an error drawn on it, if one is.
    virtual std::optional<double> error_axis_top_db() const { return std::nullopt; }
    // Ascending; none by itself.
    virtual std::vector<LaneMark> marks() const { return {}; }
    // Every curve at a frequency; empty where there is nothing to read.
    virtual std::vector<ReadoutRow> readout_at(double hz) const = 0;
    // What a second plumb line adds.
    virtual std::vector<ReadoutRow> differences_between(double from_hz, double to_hz) const = 0;
    // From the lowest to the highest edge of the corridor among the shown frequencies, in dB.
    virtual std::optional<std::pair<double, double>> corridor_reach() const { return {}; }
    // The curves that a readout should hide least, the weightiest first.
    virtual std::vector<LaneCurve> curves_in_work() const = 0;

    bool is_shown(const QString& key) const {
        if (choices_.alone) {
            return *choices_.alone == key;
        }
        const auto chosen = choices_.shown.find(key);
        return chosen != choices_.shown.end() ? chosen->second : is_shown_by_itself(key);
    }
    void show(const QString& key, bool shown) {
        choices_.alone.reset();
        choices_.shown[key] = shown;
        redraw_all();
    }
    void show_alone(const std::optional<QString>& key) {
        choices_.alone = key;
        redraw_all();
    }
    const std::optional<QString>& alone() const { return choices_.alone; }
    const CurveChoices& choices() const { return choices_; }
    void choose(const CurveChoices& choices) {
        choices_ = choices;
        redraw_all();
    }

private:
    virtual bool is_shown_by_itself(const QString&) const { return true; }

    CurveChoices choices_;
};

using MakeLaneContent = std::function<std::unique_ptr<LaneContent>(LanePlot&)>;

} // namespace syntonon
