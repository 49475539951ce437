// What is drawn on the lanes: corridor, target, measured, predicted, takes, the selected stage.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"
#include "app/plot/lane_plot.h"

#include <QString>
#include <optional>
#include <set>
#include <vector>

namespace syntonon {

// A curve's name and where it is written, on the magnitude lane.
struct CurveLabel {
    QString key; // of the curve, see LaneCurves
    QString text;
    QColor colour;
    double hz = 0; // where the curve is named
    double level_db = 0;
    bool at_end = false; // at the lane's right side; else above the place
    bool above = true;
};

// A curve the user can name: "measured", "prediction", "target", "stage", "difference",
// "take:<id>".
struct CurveName {
    QString key, name;
};

class LaneCurves {
public:
    LaneCurves(LanePlot& plot, Session& session);

    // Brings the curves up to date and redraws what moved: the live layer alone when goal,
    // measured curve, takes and axes are as they were.
    void update();
    // After a change of theme, ranges, view or size.
    void redraw_all();

    // Which of the channel's curves there are, and which are drawn. Alone: all others are left out.
    std::vector<CurveName> curves() const;
    bool is_shown(const QString& key) const;
    void show(const QString& key, bool shown);
    void show_alone(const std::optional<QString>& key);
    void show_like(const LaneCurves& other); // hides what it hides
    const std::optional<QString>& alone() const { return alone_; }

    std::vector<CurveLabel> labels() const;
    // The curve at a point of the lanes, and what it is, for a hint.
    std::optional<CurveName> explained_at(const QPointF& point) const;
    // Of the weighted error, when the weight lane shows it.
    std::optional<double> error_rms_db() const { return error_rms_db_; }

private:
    struct TakeGraphs {
        LaneCurve level, phase, delay;
        std::shared_ptr<const TakeAnalysis> analysis;
    };
    void restyle();
    void update_live();
    void update_still();
    void draw_corridor();
    void draw_target();
    void draw_measured();
    void draw_takes();
    void draw_weight();
    void draw_difference();
    void draw_error();
    void draw_stage();
    void dim_what_waits();
    void draw_other_target(LaneCurve graph, Lane lane, const std::optional<TargetCurve>& target);
    // A closer look than the drawing grid gives, while a part of the frequencies is magnified.
    bool is_magnified() const;
    Trace detail_of_chain(const Filter& chain) const;
    LevelTrace prediction_from(const Trace& total) const;
    void draw_level(LaneCurve graph, const LevelTrace& trace);
    void draw_phase_and_delay(LaneCurve phase, LaneCurve delay, const Trace& trace);
    void remember();
    bool is_still_right() const;
    void clear_takes();
    QString explanation(const QString& key) const;
    void add_end_label(const LevelTrace& trace, const QString& key, const QString& text,
                       const QColor& colour, std::vector<CurveLabel>& labels) const;
    void add_take_labels(const ChannelAnalysis& analysis, std::vector<CurveLabel>& labels) const;
    void add_goal_label(std::vector<CurveLabel>& labels) const;

    LanePlot& plot_;
    Session& session_;
    LaneCurve target_, measured_, predicted_, stage_, difference_;
    LaneCurve weight_, error_, error_floor_, phase_, stage_phase_, phase_target_, delay_,
        delay_target_;
    std::vector<LaneCurve> corridor_;
    std::vector<TakeGraphs> takes_;
    std::set<QString> hidden_;
    std::optional<QString> alone_;
    std::optional<double> error_rms_db_;

    // What the still curves were drawn from.
    struct Shown {
        std::shared_ptr<const ResolvedGoal> goal;
        SharedMeasured measured;
        std::vector<SharedValue<Take>> takes;
        QString channel;
    };
    Shown shown_;
    bool still_is_shown_ = false;
};

// "take:<id>"
QString take_key(const Take& take);

// The colours of takes: shades of plum, so that neighbours can be told apart.
QColor take_colour(std::size_t index);

} // namespace syntonon
