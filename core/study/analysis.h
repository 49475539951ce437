// What a channel's chain does, kept so that a change recomputes only what it touches.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/goal/verdict.h"
#include "core/study/briefs.h"
#include "core/study/study.h"
#include "core/study/trace.h"
#include "core/study/view.h"
#include "core/study/words_analysis.h"

#include <cstddef>
#include <map>
#include <memory>
#include <string>
#include <vector>

namespace syntonon {

// A stage's design and its response on the drawing grid (empty when there is a problem).
struct StageAnalysis : DesignedStage {
    Response response;
};

// A take as it is drawn: with the channel's measured curve of today.
struct TakeAnalysis {
    Filter chain; // what is switched on; a wire when there is a problem
    Trace total;
    LevelTrace predicted;
    std::optional<Problem> problem; // its first stage that cannot be designed, or is not yet
    std::vector<DesignJob> jobs;
};

// A verdict that takes long, to be found beside everything else.
struct JudgeJob {
    std::shared_ptr<const ResolvedGoal> goal; // not null
    SharedMeasured measured;                  // may be null
    Filter chain;
    Axis axis;
    std::shared_ptr<const Company> company; // null: no requirement asks for any

    bool is_same_as(const JudgeJob& other) const {
        return goal == other.goal && measured == other.measured && axis == other.axis
               && chain == other.chain && company == other.company;
    }
};
Verdict run(const JudgeJob& job);

// Whether a verdict that takes long is waited for or left as a job.
enum class Judging { at_once, later };

struct ChannelAnalysis {
    std::shared_ptr<const FrequencyGrid> grid; // the drawing grid
    // By id, at every depth.
    std::map<std::string, std::shared_ptr<const StageAnalysis>, std::less<>> stages;
    Filter chain;         // what is switched on
    Trace total;          // of the chain: the drawing grid and points around sharp roots
    LevelTrace predicted; // measured times chain; the chain alone without a measured curve
    std::vector<std::shared_ptr<const TakeAnalysis>> takes; // parallel to the channel's takes
    std::shared_ptr<const WordsAnalysis> words;             // null unless the view asks for them
    SharedMeasured measured;                  // null without positions, or where they are missing
    std::shared_ptr<const ResolvedGoal> goal; // null without one
    std::vector<Problem> problems; // stages switched on that cannot be designed: "stages[2].q"
    // The stage whose last good filter stands in for one that is being designed; empty: everything
    // is as it should be. The verdict is undecided meanwhile.
    std::string waits_for;
    std::vector<DesignJob> jobs;             // after them the analysis will be another one
    Verdict verdict;                         // undecided while it is being found
    std::shared_ptr<const JudgeJob> judging; // what finds it; null: it is there
    Cost cost;
    // Null when the channel has no such stage.
    const StageAnalysis* stage(std::string_view id) const {
        const auto found = stages.find(id);
        return found != stages.end() ? found->second.get() : nullptr;
    }
    double latency_samples = 0;
};

// Chain and measured level at one frequency, for readouts.
struct ChannelPoint {
    ResponsePoint chain;
    std::optional<double> measured_db;
    std::optional<double> predicted_db;
    std::optional<double> target_db;
    std::vector<std::optional<double>> takes_db; // parallel to the channel's takes
};

// The goal's target, where one is stated and could be worked out; else null.
const TargetCurve* shown_target(const ChannelAnalysis& analysis);

// All curves' values at one frequency of the channel's axis.
ChannelPoint point_at(const ChannelAnalysis& analysis, double hz);

// Remembers the last analysis of every view of a channel.
class AnalysisCache {
public:
    static constexpr double lowest_hz = 10;
    static constexpr std::size_t grid_points = 600;
    // To so many times half the sample rate reaches the drawing grid of an analog channel; what is
    // looked at beyond has points of its own (see detail_of).
    static constexpr double analog_reach = 10;

    // Caches may share a store.
    explicit AnalysisCache(std::shared_ptr<DesignStore> store = std::make_shared<DesignStore>())
        : briefs_(std::move(store)) {}

    // Only stages that differ from the last call's are designed and evaluated again; with another
    // sample rate all are. A channel that is as it was, goal and measurement too, costs nothing.
    // What takes long is not designed here but left as jobs.
    std::shared_ptr<const ChannelAnalysis> analyse(const Study& study, const Channel& channel,
                                                   const View& view = {},
                                                   Judging judging = Judging::at_once);
    // What a job of that view found: from now on it is that of what the job was made of.
    void take_verdict(const ChannelView& key, const JudgeJob& job, Verdict verdict);

    // How many stages have been designed so far: shows what a change cost.
    std::size_t designed_stages() { return briefs_.store().designs_made(); }
    Briefs& briefs() { return briefs_; }

private:
    // What an analysis was made of, and the analysis.
    struct Kept {
        std::optional<SharedValue<Channel>> channel; // nothing: not one of the study's
        SharedMeasured measured;
        std::shared_ptr<const ResolvedGoal> goal;
        std::shared_ptr<const ChannelAnalysis> analysis;
        std::shared_ptr<const Company> company;
        std::shared_ptr<const Delivery> delivery; // of the words; null: as designed
        std::shared_ptr<const Processor> processor;
    };
    // The last one while it is the same.
    std::shared_ptr<const Company> company_of(const Study& study, const Channel& channel,
                                              const ResolvedGoal* goal, const Kept* last,
                                              std::vector<DesignJob>& jobs);

    std::shared_ptr<const StageAnalysis> analyse_stage(const std::string& id,
                                                       const DesignedStage& stage,
                                                       const ChannelAnalysis* last,
                                                       const FrequencyGrid& grid) const;
    std::shared_ptr<const TakeAnalysis> analyse_take(const Study& study, const Channel& channel,
                                                     const SharedValue<Take>& take,
                                                     const ChannelAnalysis& analysis);
    void add_takes(const Study& study, const Channel& channel, ChannelAnalysis& analysis);
    void design_stages(const Study& study, const Channel& channel, const View& view,
                       const ChannelAnalysis* last, ChannelAnalysis& analysis);
    void use_sample_rate(double sample_rate_hz);
    void judge(const ChannelView& key, const Goal* goal, Judging judging, JudgeJob job,
               ChannelAnalysis& analysis);
    const std::shared_ptr<const FrequencyGrid>& grid_of(const Channel& channel) const {
        return channel.domain == Domain::analog ? analog_grid_ : grid_;
    }

    Briefs briefs_;
    std::shared_ptr<const FrequencyGrid> grid_, analog_grid_;
    std::map<ChannelView, Kept> last_;
    struct KeptTake {
        SharedValue<Take> take;
        Axis axis;
        SharedMeasured measured;
        std::shared_ptr<const ResolvedGoal> goal;
        std::shared_ptr<const TakeAnalysis> analysis;
    };
    std::map<ChannelView, KeptTake> takes_;
    struct Judged {
        JudgeJob job;
        Verdict verdict;
    };
    std::map<ChannelView, Judged> judged_; // that took long
};

} // namespace syntonon
