// Words, budgets and profiles from a shell.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/batch/batch_fixture.h"

#include "core/exchange/sound_taps.h"

#include <cmath>
#include <filesystem>

namespace syntonon {
namespace {

class BatchWords : public test::Batch {};

TEST_F(BatchWords, TellWhatAProcessorMakesOfChannels) {
    const test::Call call = run("words " + study + " --delivery amplifiers");
    ASSERT_EQ(call.code, 0) << call.err;
    const auto lines = rows(call.out);
    ASSERT_EQ(lines.size(), 3U);
    EXPECT_EQ(lines[0][0], "zenith");
    EXPECT_EQ(lines[0][2], "Q5.23");
    EXPECT_EQ(lines[0][3], "nearest");
    EXPECT_LT(number(lines[0][4]), 0.5);
    EXPECT_LT(number(lines[0][6]), -60); // noise
    EXPECT_GT(number(lines[0][7]), 10);  // headroom
    const test::Call wrong = run("words " + study + " --delivery nothing");
    EXPECT_EQ(wrong.code, 2);
    EXPECT_NE(wrong.err.find("use one of: table, json, c-float, amplifiers"), std::string::npos)
        << wrong.err;
}

TEST_F(BatchWords, AreSearchedAndKept) {
    const std::string to = scratch.file("searched.syntonon").string();
    const test::Call call = run("words " + study + " --delivery simulation --search --to " + to);
    ASSERT_EQ(call.code, 0) << call.err;
    EXPECT_EQ(rows(call.out)[0][3], "searched");
    const test::Call again = run("words " + to + " --delivery simulation");
    EXPECT_EQ(again.out, call.out) << "found words hold";
    EXPECT_EQ(run("words " + study + " --delivery simulation --search").code, 2) << "without --to";
}

TEST_F(BatchWords, CanBeRespondedJudgedAndRun) {
    const test::Call plain = run("respond " + study + " --channel zenith --at 100");
    const test::Call as_words =
        run("respond " + study + " --channel zenith --at 100 --as amplifiers");
    ASSERT_EQ(as_words.code, 0) << as_words.err;
    EXPECT_NE(as_words.out, plain.out);
    EXPECT_NEAR(number(rows(as_words.out)[0][1]), number(rows(plain.out)[0][1]), 0.1);
    EXPECT_EQ(run("judge " + study + " --channel zenith --as amplifiers").code, 0);
    EXPECT_EQ(run("judge " + study + " --channel zenith --as nothing").code, 2);
    EXPECT_EQ(
        run("respond " + study + " --channel zenith --stage s1 --at 100 --as amplifiers").code, 2)
        << "a stage has no words";
    // An impulse through the processor's arithmetic: every sample is one of its words.
    std::vector<double> impulse(400);
    impulse[0] = 0.5;
    const auto wav = sound_of_taps(impulse, 48000, SoundFormat::wav);
    const auto in = scratch.write("in.wav", *wav);
    const std::string out = scratch.file("out.wav").string();
    const test::Call call =
        run("process " + study + " --channel zenith --as amplifiers " + in.string() + " " + out);
    ASSERT_EQ(call.code, 0) << call.err;
    const auto heard = taps_from_sound(out);
    ASSERT_TRUE(heard);
    for (const double x : heard->taps) {
        const double steps = std::ldexp(x, 23);
        EXPECT_EQ(steps, std::round(steps));
    }
}

TEST_F(BatchWords, BudgetsSayWhetherItFits) {
    const test::Call call = run("budget " + study + " --delivery amplifiers");
    EXPECT_EQ(call.code, 0);
    EXPECT_EQ(rows(call.out)[0][0], "cycles");
    EXPECT_EQ(number(rows(call.out)[0][1]), 180);
    const std::string beyond = write_study([](Study& s) {
        Processor small = *shipped_processor("reed-28");
        small.most_sections = 8;
        s.processors.emplace_back(small);
        s.goals.front().edit().requirements.push_back({BudgetRequirement{100}, {}});
    });
    EXPECT_EQ(run("budget " + beyond + " --delivery amplifiers").code, 1);
    const test::Call judged = run("judge " + beyond + " --channel zenith");
    EXPECT_EQ(judged.code, 1);
    EXPECT_NE(judged.out.find("budget: sections of Reed 28: NOT MET, value 125 %"),
              std::string::npos)
        << judged.out;
}

TEST_F(BatchWords, ProfilesAreListedAndWritten) {
    const std::string folder = scratch.file("profiles").string();
    const test::Call call = run("processors --to " + folder);
    ASSERT_EQ(call.code, 0) << call.err;
    EXPECT_EQ(rows(call.out).size(), 4U);
    EXPECT_TRUE(std::filesystem::exists(folder + "/reed-28.syntonon-processor"));
}

TEST_F(BatchWords, CheckNamesProcessorsThatAreNotThere) {
    const std::string gone = write_study([](Study& s) { s.deliveries[3].processor = "nobody"; });
    const test::Call call = run("check " + gone);
    EXPECT_EQ(call.code, 2);
    EXPECT_NE(call.err.find("deliveries[3].processor"), std::string::npos) << call.err;
    const std::string other =
        write_study([](Study& s) { s.deliveries[3].structure = Structure::coupled_form; });
    EXPECT_NE(run("check " + other).err.find("deliveries[3].structure"), std::string::npos);
}

TEST_F(BatchWords, CheckNamesPatternsAndFormsThatMakeNoFile) {
    const std::string pattern =
        write_study([](Study& s) { s.deliveries[3].file_pattern = "../{channel}"; });
    EXPECT_NE(run("check " + pattern).err.find("deliveries[3].file_pattern: "), std::string::npos);
    const test::Call call = run("deliver " + pattern + " --to " + scratch.file("none").string());
    EXPECT_EQ(call.code, 2);
    EXPECT_FALSE(std::filesystem::exists(scratch.file("none"))) << "nothing is written";
    const std::string form = write_study([](Study& s) {
        s.deliveries[3].layout.format = FileFormat::form;
        s.deliveries[3].form = "a\n{{nothing}}";
    });
    const test::Call named = run("check " + form);
    EXPECT_NE(named.err.find("deliveries[3].form, line 2: "), std::string::npos) << named.err;
}

TEST_F(BatchWords, LoadsOfThisMachineAreMeasured) {
    const test::Call call = run("loads --block 256");
    ASSERT_EQ(call.code, 0) << call.err;
    ASSERT_EQ(rows(call.out).size(), 10U);
    EXPECT_GT(number(rows(call.out)[9][1]), number(rows(call.out)[9][2]));
    const auto asked = rows(run("loads --block 64 --taps 256,1500").out);
    ASSERT_EQ(asked.size(), 2u);
    EXPECT_EQ(asked[1][0], "1500");
    EXPECT_NE(run("loads --taps 12,none").err.find("“none” is no number of taps"),
              std::string::npos);
    EXPECT_EQ(run("loads --block 0").code, 2);
    EXPECT_EQ(run("loads --sample-rate none").code, 2);
}

} // namespace
} // namespace syntonon
