// The batch program's commands. Each returns what goes to standard output, or a problem.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "batch/judge_output.h"
#include "core/base/problem.h"
#include "core/filter/grid.h"
#include "core/study/analysis.h"
#include "core/study/study.h"

#include <cstddef>
#include <filesystem>
#include <optional>
#include <string>
#include <vector>

namespace syntonon::batch {

struct Report {
    std::string text;
    bool requirements_met = true; // judge: exit 0 or 1
};

// Frequencies as the command line gives them; exactly one of the three.
struct Frequencies {
    std::vector<double> at_hz;
    std::string logarithmic; // "LO:HI:COUNT"
    std::string linear;      // "LO:HI:COUNT"
};

// A study, and what has been made of it so far.
struct Opened {
    Study study;
    AnalysisCache cache = AnalysisCache();
};
// Loads a study; warnings go to standard error.
Expected<Opened> open_study(const std::filesystem::path& path);

// Each makes the designs that it needs, with progress on standard error where that is a terminal.
Expected<Report> check(Opened& opened);
Expected<Report> respond(Opened& opened, const std::string& channel, const std::string& stage,
                         const Frequencies& frequencies);
Expected<Report> impulse(Opened& opened, const std::string& channel, std::size_t length);
Expected<Report> roots(Opened& opened, const std::string& channel);
Expected<Report> coefficients(Opened& opened, const std::string& channel,
                              const std::string& layout);
Expected<Report> judge(Opened& opened, const std::string& channel, JudgeFormat format);
// The numbers behind a stage, as JSON.
Expected<Report> working(Opened& opened, const std::string& channel, const std::string& stage);
Expected<Report> deliver(Opened& opened, const std::filesystem::path& folder, bool replace);

} // namespace syntonon::batch
