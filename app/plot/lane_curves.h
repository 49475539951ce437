// What is drawn on the lanes: corridor, target, measured, predicted, takes, the selected stage.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"
#include "app/model/weight_commands.h"
#include "app/plot/lane_content.h"
#include "app/plot/part_graphs.h"
#include "core/study/predicted_timing.h"

#include <QString>
#include <array>
#include <optional>
#include <span>
#include <vector>

namespace syntonon {

struct FitState;

// The selected channel's curves. Their keys: "measured", "prediction", "target", "stage",
// "difference", "reachable" (of a correction), "take:<id>", "part:<key>" (see PartGraphs).
class LaneCurves : public LaneContent {
public:
    LaneCurves(LanePlot& plot, Session& session);

    // The live layer alone when goal, measured curve, takes and axes are as they were.
    void update() override;
    void redraw_all() override;

    std::vector<CurveName> curves() const override;
    std::vector<CurveLabel> labels() const override;
    std::vector<LaneMark> marks() const override;
    std::optional<CurveName> explained_at(const QPointF& point) const override;
    QString title(Lane lane) const override;
    std::optional<double> error_axis_top_db() const override;
    std::vector<ReadoutRow> readout_at(double hz) const override;
    std::vector<ReadoutRow> differences_between(double from_hz, double to_hz) const override;
    std::optional<std::pair<double, double>> corridor_reach() const override;
    std::vector<LaneCurve> curves_in_work() const override {
        return {stage_, predicted_, phase_, delay_, measured_, target_};
    }

private:
    // Where ripples are too dense for a line: from the least to the most.
    struct BandGraph {
        LaneCurve least, most;
    };
    struct TakeGraphs {
        LaneCurve level, phase, delay;
        BandGraph edges; // of its level
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
    QString weight_title() const;
    void draw_difference();
    void draw_reachable();
    std::shared_ptr<const FitState> fit_state() const; // of the selected stage; may be null
    void draw_error();
    void draw_stage();
    void dim_what_waits();
    void draw_other_target(LaneCurve graph, Lane lane, const std::optional<TargetCurve>& target);
    // A closer look than the drawing grid gives, while a part of the frequencies is magnified.
    bool is_magnified() const;
    bool is_shown_by_itself(const QString& key) const override {
        return key != "predicted_timing"
               && (!key.startsWith(QLatin1String("part:")) || PartGraphs::is_shown_by_itself(key));
    }
    void draw_parts();
    void draw_predicted_timing(const Trace& chain);
    void draw_words();
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
    LaneCurve target_, measured_, predicted_, stage_, difference_, reachable_;
    LaneCurve weight_, error_, error_floor_, phase_, stage_phase_, phase_target_, delay_,
        delay_target_;
    LaneCurve predicted_phase_, predicted_delay_; // on request
    LaneCurve words_, words_phase_, words_delay_; // of the processor that is looked at
    SharedMeasured timing_of_;
    std::shared_ptr<const MeasuredTiming> timing_; // of the shown measured set; null without phase
    void draw_edges(const BandGraph& graph, const LevelTrace& level);
    void draw_band(const BandGraph& graph, Lane lane, std::span<const double> hz,
                   const QVector<double>& least, const QVector<double>& most);
    void draw_bands(const Trace& total, const LevelTrace& level);
    std::array<BandGraph, 3> bands_; // level, phase, delay
    BandGraph stage_band_;
    PartGraphs parts_;
    std::vector<LaneCurve> corridor_;
    std::vector<TakeGraphs> takes_;
    DrawnWeights::Of weights_of_ = DrawnWeights::Of::nobody;
    std::optional<double> error_rms_db_; // of the weighted error, when the weight lane shows it

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
