// Studies with random damage: an answer or a problem, never a crash, and nothing that was read is
// lost on writing.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/coefficients.h"
#include "core/study/analysis.h"
#include "core/study/json_reader.h"
#include "core/study/problems.h"
#include "core/study/study_json.h"
#include "demo/brightwater.h"
#include "tests/support/json.h"

#include <cmath>
#include <gtest/gtest.h>
#include <random>

namespace syntonon {
namespace {

std::string small_demo() {
    Study study = brightwater_study();
    study.curves.resize(1);
    Curve& curve = study.curves[0].edit();
    curve.frequency_hz.resize(12);
    curve.magnitude_db.resize(12);
    curve.phase_deg.resize(12);
    study.goals[0].edit().requirements = {{RippleRequirement{}, {}}, {LevelRequirement{}, {}}};
    return json_from_study(study);
}

// Everything that a program would do with a study it has opened.
void use(const Study& study) {
    AnalysisCache cache;
    for (const auto& channel : study.channels) {
        const auto analysis = cache.analyse(study, *channel);
        for (const Finding& finding : analysis->verdict) {
            for (const auto& number :
                 {finding.value, finding.limit, finding.margin, finding.worst_hz}) {
                EXPECT_TRUE(!number || std::isfinite(*number)) << finding.requirement;
            }
            // What is missed may say why: it contradicts another demand.
            const bool has_reason = !finding.reason.empty();
            EXPECT_TRUE(finding.outcome == Outcome::undecided
                            ? has_reason
                            : finding.outcome != Outcome::met || !has_reason)
                << finding.requirement << ": " << finding.reason;
        }
        if (const auto set = coefficients_of(study, *channel, cache.briefs())) {
            EXPECT_TRUE(coefficient_text(*set, CoefficientLayout{}));
        }
    }
    for (const Problem& problem : problems_of(study)) {
        EXPECT_FALSE(problem.place.empty());
        EXPECT_FALSE(problem.reason.empty());
    }
}

class Mangled : public testing::TestWithParam<unsigned> {};

TEST_P(Mangled, BytesAreSurvived) {
    std::mt19937 random(GetParam());
    const std::string good = small_demo();
    for (int round = 0; round < 150; ++round) {
        std::string text = good;
        const auto damage = 1 + random() % 4;
        for (unsigned k = 0; k < damage; ++k) {
            const auto at = random() % text.size();
            switch (random() % 4) {
            case 0:
                text[at] = static_cast<char>(random());
                break;
            case 1:
                text.erase(at, 1 + random() % 30);
                break;
            case 2:
                text.insert(at, text.substr(random() % text.size(), random() % 30));
                break;
            default:
                text[at] = "0123456789-.e\"{}[],:"[random() % 20];
                break;
            }
        }
        const auto read = study_from_json(text);
        if (!read) {
            EXPECT_FALSE(read.error().reason.empty());
            continue;
        }
        use(read->study);
        const auto again = study_from_json(json_from_study(read->study));
        ASSERT_TRUE(again) << to_text(again.error());
        EXPECT_EQ(again->study, read->study);
    }
}

// Numbers are the likeliest things to be wrong in a hand-written file.
TEST_P(Mangled, NumbersAreSurvived) {
    std::mt19937 random(GetParam());
    const std::string text = small_demo();
    const std::vector<std::string> leaves = test::json_leaves(text);
    const char* values[] = {"0",   "-1",    "1e-300",     "1e300", "-1e300",
                            "0.5", "24000", "24000.0001", "48000", "1e-9"};
    for (int round = 0; round < 60; ++round) {
        const std::string& leaf = leaves[random() % leaves.size()];
        const char* value = values[random() % std::size(values)];
        const char first = test::json_at(text, leaf)[0];
        const bool is_number = first == '-' || (first >= '0' && first <= '9');
        if (const auto read =
                study_from_json(is_number ? test::json_with(text, leaf, value) : text)) {
            use(read->study);
        }
    }
}
INSTANTIATE_TEST_SUITE_P(Seeds, Mangled, testing::Range(1u, 5u));

} // namespace
} // namespace syntonon
