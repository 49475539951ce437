// The batch program's commands. Each returns what goes to standard output, or a problem.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "batch/judge_output.h"
#include "core/base/problem.h"
#include "core/filter/grid.h"
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

// Loads a study; warnings go to standard error.
Expected<Study> open_study(const std::filesystem::path& path);

Expected<Report> check(const Study& study);
Expected<Report> respond(const Study& study, const std::string& channel, const std::string& stage,
                         const Frequencies& frequencies);
Expected<Report> impulse(const Study& study, const std::string& channel, std::size_t length);
Expected<Report> roots(const Study& study, const std::string& channel);
Expected<Report> coefficients(const Study& study, const std::string& channel,
                              const std::string& layout);
Expected<Report> judge(const Study& study, const std::string& channel, JudgeFormat format);
// The numbers behind a stage, as JSON.
Expected<Report> working(const Study& study, const std::string& channel, const std::string& stage);
Expected<Report> deliver(const Study& study, const std::filesystem::path& folder, bool replace);

} // namespace syntonon::batch
