// The batch program as a shell sees it: output, messages, exit codes.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/coefficients.h"
#include "core/study/kinds.h"
#include "tests/batch/batch_fixture.h"
#include "tests/support/json.h"

#include <algorithm>
#include <cmath>
#include <complex>

namespace syntonon {
namespace {

using test::Batch;
using test::Call;

TEST_F(Batch, CheckSaysThatAllIsInOrder) {
    const Call r = run("check " + study);
    EXPECT_EQ(r.code, 0);
    EXPECT_NE(r.out.find("in order"), std::string::npos);
    EXPECT_TRUE(r.err.empty());
}

TEST_F(Batch, ProblemsAreOneLineWithFilePathReasonAndWayOut) {
    const std::string bad = write_study([](Study& s) {
        std::get<ParametricSpec>(s.channels[0].edit().stages[2].edit().spec.edit()).frequency_hz =
            30000;
    });
    for (const std::string& command :
         std::vector<std::string>{"check " + bad, "respond " + bad + " --channel zenith --at 100",
                                  "coefficients " + bad + " --channel zenith"}) {
        const Call r = run(command);
        EXPECT_EQ(r.code, 2) << command;
        EXPECT_TRUE(r.out.empty());
        EXPECT_EQ(std::ranges::count(r.err, '\n'), 1) << r.err;
        EXPECT_NE(
            r.err.find(
                "stages[2].frequency_hz: 30000 Hz is not below half the sample rate (24000 Hz)"),
            std::string::npos)
            << r.err;
    }
    EXPECT_TRUE(
        run("check " + bad).err.starts_with(bad + ": channels[0].stages[2].frequency_hz: "));
}

TEST_F(Batch, RespondGivesSeventeenDigitsAndWrappedPhase) {
    const Call r = run("respond " + study + " --channel zenith --at 63,870,12000");
    EXPECT_EQ(r.code, 0);
    EXPECT_TRUE(r.out.starts_with("frequency_hz,magnitude_db,phase_deg,group_delay_s\n"));
    const Study demo = brightwater_study();
    for (const auto& row : rows(r.out)) {
        double level = 0, delay = 0;
        for (const auto& stage : demo.channels[0]->stages) {
            const ResponsePoint at =
                design(stage->spec, brief_at(48000), {})->filter.response_at(number(row[0]), 48000);
            level += at.magnitude_db;
            delay += at.group_delay_samples / 48000;
        }
        EXPECT_NEAR(number(row[1]), level, 1e-12);
        EXPECT_LE(std::abs(number(row[2])), 180);
        EXPECT_NEAR(number(row[3]), delay, 1e-15);
    }
    const auto stage = rows(run("respond " + study + " --channel zenith --stage s5 --at 870").out);
    EXPECT_NEAR(number(stage[0][1]), -4.6, 1e-9);
}

TEST_F(Batch, FitWritesTheStudyWithWhatWasFound) {
    const std::string unfitted = write_study([](Study& s) {
        Stage stage;
        stage.id = "fit";
        CorrectionSpec spec;
        std::get<SectionsCorrection>(spec.method).count = 3;
        stage.spec = spec;
        s.channels[1].edit().stages = {stage};
        s.channels[2].edit().stages = {stage};
    });
    const std::string fitted = scratch.file("fitted.syntonon").string();
    const Call r = run("fit " + unfitted + " --channel sunrise --to " + fitted);
    ASSERT_EQ(r.code, 0) << r.err;
    const auto lines = rows(r.out);
    ASSERT_EQ(lines.size(), 1U);
    EXPECT_EQ(lines[0][0], "sunrise");
    EXPECT_EQ(lines[0][1], "fit");
    EXPECT_EQ(lines[0][2], "3");
    EXPECT_LT(number(lines[0][4]), 0.7 * number(lines[0][3])) << "rms after and before";
    const auto read = load_study(fitted);
    ASSERT_TRUE(read) << to_text(read.error());
    const auto found = [&](const char* channel) {
        const auto& spec =
            std::get<CorrectionSpec>(*stage_of(*channel_of(read->study, channel), "fit")->spec);
        return std::get<SectionsCorrection>(spec.method).found.size();
    };
    EXPECT_EQ(found("sunrise"), 3U);
    EXPECT_EQ(found("sunset"), 0U) << "not asked for";
    EXPECT_EQ(rows(run("fit " + fitted + " --to " + fitted).out).size(), 2U) << "all channels";
}

TEST_F(Batch, AFitThatCannotBeMadeSaysWhereAndWritesNothing) {
    const std::string bad = write_study([](Study& s) {
        Stage stage;
        stage.id = "fit";
        CorrectionSpec spec;
        spec.from_hz = 1;
        stage.spec = spec;
        s.channels[1].edit().stages = {stage};
    });
    const std::string fitted = scratch.file("fitted.syntonon").string();
    const Call r = run("fit " + bad + " --to " + fitted);
    EXPECT_EQ(r.code, 2);
    EXPECT_NE(r.err.find("channels[1].stages[0].from_hz: 1 Hz was not measured"), std::string::npos)
        << r.err;
    EXPECT_FALSE(std::filesystem::exists(fitted));
}

TEST_F(Batch, RespondTakesLogAndLinearRangesOnly) {
    const auto log = rows(run("respond " + study + " --channel zenith --log 20:20000:31").out);
    ASSERT_EQ(log.size(), 31u);
    EXPECT_NEAR(number(log[1][0]) / number(log[0][0]), std::pow(1000, 1 / 30.0), 1e-12);
    const auto linear = rows(run("respond " + study + " --channel zenith --linear 0:24000:5").out);
    EXPECT_EQ(number(linear[2][0]), 12000);
    EXPECT_EQ(linear[0][1], "-inf") << "the high-pass has zeros at 0 Hz";
    for (const std::string& bad : std::vector<std::string>{
             "", "--at 1 --log 1:2:3", "--log 1:2", "--log 5:2:10", "--linear 0:99999:10",
             "--at 25000", "--log a:b:c", "--log 20:200:1"}) {
        const Call r = run("respond " + study + " --channel zenith " + bad);
        EXPECT_EQ(r.code, 2) << bad;
        EXPECT_FALSE(r.err.empty());
    }
}

TEST_F(Batch, ImpulseTransformsIntoTheResponse) {
    const auto samples = rows(run("impulse " + study + " --channel sunrise --length 20000").out);
    ASSERT_EQ(samples.size(), 20000u);
    const double w = 2 * std::acos(-1.0) * 1450 / 48000;
    std::complex<double> sum = 0;
    for (std::size_t n = 0; n < samples.size(); ++n) {
        sum += number(samples[n][1]) * std::polar(1.0, -w * static_cast<double>(n));
    }
    const auto response = rows(run("respond " + study + " --channel sunrise --at 1450").out);
    EXPECT_NEAR(20 * std::log10(std::abs(sum)), number(response[0][1]), 1e-6);
    EXPECT_EQ(run("impulse " + study + " --channel sunrise --length 0").code, 2);
}

TEST_F(Batch, RootsGiveBackTheResponse) {
    const auto list = rows(run("roots " + study + " --channel zenith").out);
    ASSERT_EQ(list.size(), 24u);
    const auto z = std::polar(1.0, 2 * std::acos(-1.0) * 500 / 48000);
    const auto reference = std::polar(1.0, 2 * std::acos(-1.0) * 5000 / 48000);
    double ratio = 1;
    for (const auto& row : list) {
        const std::complex<double> root(number(row[1]), number(row[2]));
        EXPECT_NEAR(std::abs(root), number(row[3]), 1e-12);
        const double share = std::abs(z - root) / std::abs(reference - root);
        ratio *= row[0] == "zero" ? share : 1 / share;
    }
    const auto response = rows(run("respond " + study + " --channel zenith --at 500,5000").out);
    EXPECT_NEAR(20 * std::log10(ratio), number(response[0][1]) - number(response[1][1]), 1e-7);
}

TEST_F(Batch, CoefficientsKnowStandardAndStudyLayouts) {
    EXPECT_TRUE(read_coefficients(run("coefficients " + study + " --channel zenith").out));
    EXPECT_TRUE(read_coefficients(
        run("coefficients " + study + " --channel zenith --layout c-double").out));
    const auto own =
        read_coefficients(run("coefficients " + study + " --channel zenith --layout c-float").out);
    EXPECT_EQ(own->layout.feedback, FeedbackSign::added)
        << "the study's own delivery wins over the standard one";
    const Call r = run("coefficients " + study + " --channel zenith --layout nope");
    EXPECT_EQ(r.code, 2);
    EXPECT_NE(r.err.find("c-double"), std::string::npos) << "the way out lists what there is";
}

// A passband to a quarter of half the rate with 21.4 samples of delay where linear phase has 30.
TEST_F(Batch, AReducedDelayLowPassMeetsAllItIsAskedFor) {
    const auto path = scratch.write("late.syntonon", R"({"format": "syntonon-study", "version": 1,
        "sample_rate_hz": 48000, "goals": [{"id": "g", "requirements": [
            {"kind": "ripple", "from_hz": 0, "to_hz": 6000, "max_db": 0.0347},
            {"kind": "level", "at_hz": 6000, "min_db": -0.01738, "max_db": 0.01736},
            {"kind": "group_delay", "from_hz": 0, "to_hz": 6000, "value_samples": 21.4,
             "tolerance_samples": 0.1},
            {"kind": "attenuation", "from_hz": 9120, "to_hz": 24000, "min_db": 50}]}],
        "channels": [{"id": "c", "goal": "g", "stages": [{"id": "f", "kind": "fir",
            "method": "least_squares", "length": 61, "delay_samples": 21.4, "bands": [
            {"from_hz": 0, "to_hz": 5200, "gain": 1},
            {"from_hz": 5200, "to_hz": 6000, "gain": 1, "weight": 4},
            {"from_hz": 9120, "to_hz": 10000, "gain": 0, "weight": 0.4},
            {"from_hz": 10000, "to_hz": 24000, "gain": 0, "weight": 0.05}]}]}]})");
    const Call call = run("judge " + path.string());
    EXPECT_EQ(call.code, 0) << call.out << call.err;
    EXPECT_EQ(std::ranges::count(call.out, '\n'), 5) << "four, and stability";
}

TEST_F(Batch, AnFirOfTheStagesAboveStandsForThem) {
    const auto path = scratch.write("chain.syntonon", R"({"format": "syntonon-study", "version": 1,
        "sample_rate_hz": 48000, "channels": [{"id": "c", "stages": [
            {"id": "p", "kind": "parametric", "shape": "peak", "frequency_hz": 1000, "gain_db": 6,
             "q": 2},
            {"id": "f", "kind": "fir", "method": "from_chain", "length": 4001, "phase": "linear"},
            {"id": "g", "kind": "gain", "gain_db": -1}]}]})");
    for (const auto& row :
         rows(run("respond " + path.string() + " --channel c --at 1000,3000").out)) {
        EXPECT_NEAR(number(row[1]), row[0] == "1000" ? 5 : number(row[1]), 1e-6);
        EXPECT_NEAR(number(row[3]) * 48000, 2000, 1e-6) << "the peak's own phase is gone";
    }
}

TEST_F(Batch, JudgeTellsMetFromNotMetByItsExitCode) {
    EXPECT_EQ(run("judge " + study + " --channel zenith").code, 0);
    EXPECT_EQ(run("judge " + study + " --channel sunrise").code, 1);
    EXPECT_EQ(run("judge " + study).code, 1);
    EXPECT_EQ(run("judge " + study + " --channel nobody").code, 2);
    const std::string findings = run("judge --json " + study).out;
    ASSERT_EQ(test::json_size(findings), 31u);
    for (int i = 0; i < 31; ++i) {
        const auto value = [&](const char* key) {
            return test::json_at(findings, "/" + std::to_string(i) + "/" + key);
        };
        for (const char* key : {"channel", "goal", "requirement", "value", "limit", "margin",
                                "unit", "worst_hz", "met"}) {
            EXPECT_NE(value(key), "absent") << key;
        }
        EXPECT_EQ(value("met"), std::stod(value("margin")) >= 0 ? "true" : "false");
    }
    EXPECT_EQ(std::ranges::count(run("judge " + study).out, '\n'), 31);
}

TEST_F(Batch, JudgesAsXmlForABuildServer) {
    const std::string odd = write_study([](Study& s) {
        s.name = "A <b> & \"c\"";
        s.goals[0].edit().requirements = {{RippleRequirement{40, 30000, 1}}};
    });
    const Call call = run("judge --junit --channel zenith " + odd);
    EXPECT_EQ(call.code, 1);
    EXPECT_TRUE(call.out.starts_with("<?xml version=\"1.0\""));
    EXPECT_NE(call.out.find("<testsuites name=\"A &lt;b&gt; &amp; &quot;c&quot;\">"),
              std::string::npos);
    EXPECT_NE(call.out.find("<testsuite name=\"Zenith\" tests=\"4\" failures=\"0\" errors=\"1\">"),
              std::string::npos)
        << call.out;
    EXPECT_NE(call.out.find("classname=\"zenith\" name=\"ripple"), std::string::npos);
    EXPECT_NE(call.out.find("<error message="), std::string::npos);
    const Call failed = run("judge --junit --channel sunrise " + study);
    EXPECT_NE(failed.out.find("<failure message="), std::string::npos);
    EXPECT_EQ(run("judge --junit --json " + study).code, 2) << "one format at a time";
}

TEST_F(Batch, JudgesWhatContradictsItselfAndSaysSo) {
    const std::string path = write_study([](Study& s) {
        s.goals[0].edit().requirements = {{AttenuationRequirement{900, 1100, 60}},
                                          {LevelRequirement{1000, -3, 3}}};
    });
    const Call call = run("judge --channel zenith " + path);
    EXPECT_EQ(call.code, 1);
    EXPECT_NE(call.out.find("requirements[0]: cannot be met together with corridor"),
              std::string::npos)
        << call.out;
    EXPECT_EQ(run("check " + path).code, 2);
}

TEST_F(Batch, ShowsTheWorkingOfAStage) {
    const Call call = run("working " + study + " --channel zenith --stage s2");
    ASSERT_EQ(call.code, 0) << call.err;
    EXPECT_EQ(test::json_at(call.out, "/stage"), "\"s2\"");
    const std::string number = "/steps/0/numbers/0/";
    EXPECT_EQ(test::json_at(call.out, number + "symbol"), "\"f0\"");
    EXPECT_EQ(test::json_at(call.out, number + "value"), "63.0");
    EXPECT_EQ(test::json_at(call.out, number + "unit"), "\"Hz\"");
    EXPECT_EQ(run("working " + study + " --channel zenith --stage s99").code, 2);
    EXPECT_EQ(run("working " + study + " --channel zenith").code, 2);
}

TEST_F(Batch, JudgeNeverPassesWhatItCannotDecide) {
    const std::string beyond = write_study([](Study& s) {
        Curve narrow;
        narrow.id = narrow.name = "narrow";
        narrow.frequency_hz = {20, 15'000};
        narrow.magnitude_db = {0, 0};
        s.curves.emplace_back(narrow);
        s.channels[0].edit().measured = {{"narrow"}};
    });
    const Call r = run("judge " + beyond + " --channel zenith");
    EXPECT_EQ(r.code, 1);
    EXPECT_NE(r.out.find("UNDECIDED"), std::string::npos);
    const std::string findings = run("judge --json --channel zenith " + beyond).out;
    EXPECT_EQ(test::json_at(findings, "/1/met"), "false");
    EXPECT_EQ(test::json_at(findings, "/1/value"), "null");
}

TEST_F(Batch, TheLogTellsWhatRanAndWhatWentWrong) {
    EXPECT_EQ(run("check " + study).err, "");
    EXPECT_EQ(run("check /no/such.syntonon").code, 2);
    const std::string log = test::bytes_of(scratch.file("state/syntonon/syntonon-batch.log"));
    EXPECT_NE(log.find("info: check " + study), std::string::npos) << log;
    EXPECT_NE(log.find("error: /no/such.syntonon"), std::string::npos) << log;
    EXPECT_NE(run("--log-to-terminal check " + study).err.find("info: check"), std::string::npos);
    EXPECT_EQ(run("--log-level loud check " + study).code, 2);
    ::setenv("XDG_STATE_HOME", "/proc/none", 1);
    const Call silent = run("check " + study);
    EXPECT_EQ(silent.code, 0);
    EXPECT_EQ(silent.err, "") << "nobody asked for a log";
    const Call told = run("--log-level info check " + study);
    EXPECT_EQ(told.code, 0);
    EXPECT_NE(told.err.find("cannot be written"), std::string::npos);
}

TEST_F(Batch, DeliverWritesReadsBackAndDoesNotOverwrite) {
    const std::string to = scratch.file("out dir").string();
    const Call first = run("deliver " + study + " --to '" + to + "'");
    EXPECT_EQ(first.code, 0) << first.err;
    EXPECT_EQ(rows(first.out).size(), 25u)
        << "eleven tables, four of words, five of Verilog, five of a plug-in";
    const Call second = run("deliver " + study + " --to '" + to + "'");
    EXPECT_EQ(second.code, 2);
    EXPECT_NE(second.err.find("exist"), std::string::npos);
    EXPECT_EQ(run("deliver --replace " + study + " --to '" + to + "'").code, 0);
    EXPECT_EQ(
        run("deliver " + write_study([](Study& s) { s.deliveries.clear(); }) + " --to '" + to + "'")
            .code,
        2);
}

TEST_F(Batch, WrongCallsAndFilesExitWithTwo) {
    for (const std::string& call : std::vector<std::string>{
             "", "nonsense", "check", "check /no/such/file", "respond " + study,
             "impulse " + study + " --channel zenith", "check " + scratch.folder().string(),
             "check " + scratch.write("empty", "").string(),
             "check " + scratch.write("bin", std::string("\0\1\2", 3)).string()}) {
        const Call r = run(call);
        EXPECT_EQ(r.code, 2) << call;
        EXPECT_TRUE(r.out.empty()) << call;
        EXPECT_FALSE(r.err.empty()) << call;
    }
    EXPECT_EQ(run("--help").code, 0);
    EXPECT_EQ(run("--version").code, 0);
}

TEST_F(Batch, UnknownKeysAreNamedOnStandardError) {
    const std::string odd = write_study([](Study& s) { s.unknown.keep("\"mood\"", "\"good\""); });
    const Call r = run("check " + odd);
    EXPECT_EQ(r.code, 0);
    EXPECT_NE(r.err.find("mood"), std::string::npos);
}

TEST_F(Batch, AFullDiskIsSaidNotIgnored) {
    const int status = std::system((test::batch_program() + " respond " + study
                                    + " --channel zenith --log 20:20000:5000 >/dev/full 2>"
                                    + scratch.file("err").string())
                                       .c_str());
    EXPECT_EQ(WEXITSTATUS(status), 2);
    EXPECT_NE(test::bytes_of(scratch.file("err")).find("disk full"), std::string::npos);
}

} // namespace
} // namespace syntonon
