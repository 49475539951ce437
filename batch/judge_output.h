// Verdicts as lines, JSON and JUnit-style XML.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/goal/verdict.h"
#include "core/study/study.h"

#include <string>
#include <vector>

namespace syntonon::batch {

struct ChannelVerdict {
    const Channel* channel;
    Verdict verdict;
};

enum class JudgeFormat { lines, json, junit };

// JSON: [{channel, goal, requirement, place, value, limit, margin, unit, worst_hz, met}]. XML: a
// test suite for each channel, a test case for each requirement; one that is not met is a failure,
// one that cannot be decided an error.
std::string judge_output(const Study& study, const std::vector<ChannelVerdict>& verdicts,
                         JudgeFormat format);

} // namespace syntonon::batch
