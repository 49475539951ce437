// What a channel's chain does, kept so that a change recomputes only what it touches.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/goal/verdict.h"
#include "core/study/study.h"

#include <cstddef>
#include <map>
#include <memory>
#include <string>
#include <vector>

namespace syntonon {

// A stage's design and its response on the drawing grid (empty when there is a problem).
struct StageAnalysis {
    StageSpec spec;
    Expected<Filter> filter;
    Response response;
};

// A response along frequencies that need not be a grid's.
struct Trace {
    std::vector<double> frequency_hz;
    Response response;
};

// The level of the measured response times the chain, where it is known.
struct LevelTrace {
    std::vector<double> frequency_hz;
    std::vector<double> level_db;
};

struct ChannelAnalysis {
    std::shared_ptr<const FrequencyGrid> grid;                // the drawing grid
    std::vector<std::shared_ptr<const StageAnalysis>> stages; // parallel to the channel's stages
    std::vector<Filter> chain;                                // what is switched on, in order
    Trace total;                   // of the chain: the drawing grid and points around sharp roots
    LevelTrace predicted;          // measured times chain; the chain alone without a measured curve
    std::vector<Problem> problems; // stages switched on that cannot be designed: "stages[2].q"
    Verdict verdict;
    Cost cost;
    double latency_samples = 0;
    double stability_margin = 1;
    bool is_stable() const { return stability_margin > 0; }
};

// Chain and measured level at one frequency, for readouts.
struct ChannelPoint {
    ResponsePoint chain;
    std::optional<double> measured_db;
    std::optional<double> predicted_db;
    std::optional<double> target_db;
};

// Remembers the last analysis of every channel, by id.
class AnalysisCache {
public:
    static constexpr double lowest_hz = 10;
    static constexpr std::size_t grid_points = 600;

    // Only stages that differ from the last call's are designed and evaluated again; with another
    // sample rate all are.
    std::shared_ptr<const ChannelAnalysis> analyse(const Study& study, const Channel& channel);

    // All curves' values at one frequency in [0, fs/2]; `analysis` is the channel's.
    ChannelPoint at(const Study& study, const Channel& channel, const ChannelAnalysis& analysis,
                    double hz);

    // How many stages have been designed so far: shows what a change cost.
    std::size_t designed_stages() const { return designed_stages_; }

private:
    std::shared_ptr<const StageAnalysis> analyse_stage(const Stage& stage,
                                                       const ChannelAnalysis* last);
    const CurveReader* reader_of(const Study& study, const Channel& channel);
    void use_sample_rate(double sample_rate_hz);

    std::shared_ptr<const FrequencyGrid> grid_;
    std::map<std::string, std::shared_ptr<const ChannelAnalysis>, std::less<>> last_;
    struct KeptReader {
        SharedValue<Curve> curve;
        std::shared_ptr<const CurveReader> reader;
    };
    std::map<std::string, KeptReader, std::less<>> readers_;
    std::size_t designed_stages_ = 0;
};

} // namespace syntonon
