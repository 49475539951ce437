// What files and calls may not do, and how it is said.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/batch/batch_fixture.h"

#include "core/study/kinds.h"
#include "tests/support/json.h"

#include <algorithm>
#include <filesystem>

namespace syntonon {
namespace {

namespace fs = std::filesystem;

class Strict : public test::Batch {
protected:
    using Call = test::Call;

    std::string write_text(const std::string& text) const {
        scratch.write("raw.syntonon", text);
        return scratch.file("raw.syntonon").string();
    }
    std::string demo_text() const { return test::bytes_of(study); }
    // Refused in one line that begins with the file or "call" and has a way out.
    static void expect_refused(const Call& call, const std::string& start,
                               const std::string& words) {
        EXPECT_EQ(call.code, 2) << call.out;
        EXPECT_EQ(std::ranges::count(call.err, '\n'), 1) << call.err;
        EXPECT_TRUE(call.err.starts_with(start)) << call.err;
        EXPECT_NE(call.err.find(words), std::string::npos) << call.err;
        EXPECT_NE(call.err.find("; "), std::string::npos) << "no way out: " << call.err;
    }
};

TEST_F(Strict, DeliveriesOfOneFileNameAreRefusedBeforeAnythingIsWritten) {
    const std::string file = write_study([](Study& s) {
        s.deliveries = {{"a", "my table", {}, {}, {}}, {"b", "my-table", {}, {}, {}}};
    });
    const fs::path to = scratch.file("to");
    const Call delivered = run("deliver " + file + " --to " + to.string());
    EXPECT_EQ(delivered.code, 2);
    EXPECT_NE(delivered.err.find("brightwater-dome_zenith_my-table.csv"), std::string::npos)
        << delivered.err;
    EXPECT_FALSE(fs::exists(to)) << "something was written";
    expect_refused(run("check " + file), file, "deliveries[1].name");
}

TEST_F(Strict, TwoEntriesOfOneIdAreRefused) {
    for (const char* list : {"curves", "goals", "channels", "deliveries"}) {
        const std::string id = test::json_at(demo_text(), std::string("/") + list + "/0/id");
        const std::string file =
            write_text(test::json_with(demo_text(), std::string("/") + list + "/1/id", id));
        expect_refused(run("check " + file), file, std::string(list) + "[1].id: ");
    }
}

TEST_F(Strict, ReplacingWritesOverALinkAndNotThroughIt) {
    const fs::path to = scratch.file("to"), outside = scratch.file("precious");
    scratch.write("precious", "precious");
    fs::create_directories(to);
    fs::create_symlink(outside, to / "brightwater-dome_zenith_table.csv");
    const Call refused = run("deliver " + study + " --to " + to.string());
    EXPECT_EQ(refused.code, 2) << "a link is something that exists";
    EXPECT_EQ(run("deliver " + study + " --to " + to.string() + " --replace").code, 0);
    EXPECT_EQ(test::bytes_of(outside), "precious");
    EXPECT_FALSE(fs::is_symlink(to / "brightwater-dome_zenith_table.csv"));
}

TEST_F(Strict, NothingIsAcceptedInSilence) {
    std::string twice = demo_text();
    twice.insert(twice.find("\"sample_rate_hz\""), "\"sample_rate_hz\": 44100, ");
    expect_refused(run("check " + write_text(twice)), scratch.file("raw.syntonon").string(),
                   "sample_rate_hz: this key stands twice");

    const std::string difference = write_study([](Study& s) {
        s.channels[0].edit().difference = Difference{"take:t99", "measured", {}};
    });
    expect_refused(run("check " + difference), difference,
                   "channels[0].difference.of: the channel has no take “t99”");

    std::string first_order = json_from_study([] {
        Study s = empty_study();
        Stage stage;
        stage.id = "s1";
        stage.spec = parametric(ParametricShape::low_pass, 1000, 0, 0.7, 1);
        s.channels[0].edit().stages.emplace_back(stage);
        return s;
    }());
    EXPECT_EQ(first_order.find("\"q\""), std::string::npos) << "we write none ourselves";
    first_order.insert(first_order.find("\"shape\""), "\"q\": 0.7, ");
    const Call warned = run("check " + write_text(first_order));
    EXPECT_EQ(warned.code, 0);
    EXPECT_NE(warned.err.find("channels[0].stages[0].q: a first-order section has no width"),
              std::string::npos)
        << warned.err;
}

TEST_F(Strict, MessagesAreOneCleanLineWithTheFilesName) {
    std::string forged = demo_text();
    forged.insert(forged.find("\"name\""), "\"k\\ny: in order\\u001b[2J\": 1, ");
    const Call r = run("check " + write_text(forged));
    EXPECT_EQ(std::ranges::count(r.err, '\n'), 1) << r.err;
    EXPECT_NE(r.err.find("k\\ny: in order\\x1b[2J"), std::string::npos) << r.err;
    EXPECT_EQ(r.err.find('\x1b'), std::string::npos);

    const std::string longest(1000, 'm');
    const Call cut = run("check "
                         + write_text(test::json_with(demo_text(), "/channels/0/stages/1/kind",
                                                      "\"" + longest + "\"")));
    EXPECT_LT(cut.err.size(), 600u) << cut.err;
    EXPECT_NE(cut.err.find(longest.substr(0, 120) + "…"), std::string::npos) << cut.err;

    // All of several problems have it.
    const std::string several = write_study([](Study& s) {
        for (auto& channel : s.channels) {
            channel.edit().goal = "nowhere";
        }
    });
    std::istringstream lines(run("check " + several).err);
    int count = 0;
    for (std::string line; std::getline(lines, line); ++count) {
        EXPECT_TRUE(line.starts_with(several + ": channels[")) << line;
    }
    EXPECT_GE(count, 3);
}

TEST_F(Strict, WrongCallsAreSaidAsEverythingElse) {
    expect_refused(run(""), "call: ", "no command is given; use one of: check, list, respond");
    expect_refused(run("sing " + study), "call: ", "there is no command “sing”");
    expect_refused(run("impulse " + study), "impulse: ", "--channel is required");
    for (const char* length : {"1e3", "-1", "0", "1.5", "100000001", "''", "many"}) {
        expect_refused(run("impulse " + study + " --channel zenith --length " + length), study,
                       "--length: “");
    }
    expect_refused(run("judge " + study + " --json --junit"), "judge: ", "--json");
}

TEST_F(Strict, WhatGrowsBeyondAllNumbersIsSaidWhereItDoes) {
    const auto with = [&](const Stage& stage) {
        return write_study([&](Study& s) { s.channels[0].edit().stages = {stage}; });
    };
    Stage delay, loop, repeat, gain;
    delay.id = "d";
    delay.spec = DelaySpec{DelayUnit::samples, 1};
    loop.id = "l";
    loop.spec = LoopSpec{{}, {1.5, {delay}}};
    const Call grown = run("impulse " + with(loop) + " --channel zenith --length 20000");
    EXPECT_EQ(grown.code, 2);
    EXPECT_TRUE(grown.out.empty());
    EXPECT_NE(grown.err.find("index 1751: "), std::string::npos) << grown.err; // 1.5^1751 > 2^1024
    gain.id = "g";
    gain.spec = GainSpec{120, false, {}};
    repeat.id = "r";
    repeat.spec = RepeatSpec{128, {gain}};
    const Call huge = run("respond " + with(repeat) + " --channel zenith --at 100");
    EXPECT_EQ(huge.code, 2);
    EXPECT_NE(huge.err.find("stages[0].count: the gain"), std::string::npos) << huge.err;
}

TEST_F(Strict, FrequenciesAreTakenAsGivenOrRefused) {
    const std::string call = "respond " + study + " --channel zenith --at ";
    expect_refused(run(call + "''"), study, "--at: an entry is empty");
    expect_refused(run(call + "100,,200"), study, "--at: an entry is empty");
    expect_refused(run(call + "100,"), study, "--at: an entry is empty");
    expect_refused(run(call + "100,x"), study, "--at: “x” is not a number");
    expect_refused(run(call + "30000"), study, "not between 0 and half the sample rate");
    const auto given = rows(run(call + "14.2374193,1e2,0.1").out);
    ASSERT_EQ(given.size(), 3u);
    EXPECT_EQ(given[0][0], "0.1");
    EXPECT_EQ(given[1][0], "14.2374193");
    EXPECT_EQ(given[2][0], "1e2");
}

TEST_F(Strict, LongRangesAreTheSameInPieces) {
    // More rows than are worked out at once.
    const auto all = rows(run("respond " + study + " --channel zenith --linear 0:24000:40001").out);
    ASSERT_EQ(all.size(), 40001u);
    for (const std::size_t i : {std::size_t{16383}, std::size_t{16384}, std::size_t{32768}}) {
        const auto alone =
            rows(run("respond " + study + " --channel zenith --at " + all[i][0]).out);
        ASSERT_EQ(alone.size(), 1u);
        for (const std::size_t column : {1, 2, 3}) {
            EXPECT_NEAR(number(alone[0][column]), number(all[i][column]), 1e-9) << i;
        }
    }
}

TEST_F(Strict, ARefusedCallSaysNothingOnStandardOutput) {
    // Also where more rows are asked for than are worked out at once.
    const Call far = run("respond " + study + " --channel zenith --linear 0:30000:100000");
    expect_refused(far, study, "not between 0 and half the sample rate");
    EXPECT_TRUE(far.out.empty());
}

TEST_F(Strict, ALongPathIsSaidInFull) {
    const std::string deep = "a folder of a long name, " + std::string(150, 'x');
    fs::create_directories(scratch.file(deep));
    scratch.write(deep + "/broken.syntonon", "{");
    const std::string file = scratch.file(deep).string() + "/broken.syntonon";
    expect_refused(run("check '" + file + "'"), file, "the file ends before");
}

TEST_F(Strict, AnIdCannotForgeAVerdict) {
    const std::string forging =
        write_study([](Study& s) { s.channels[0].edit().id = "x\nzenith: stability: met"; });
    const Call judged = run("judge " + forging);
    EXPECT_EQ(judged.out.find("\nzenith: stability: met"), std::string::npos) << judged.out;
}

TEST_F(Strict, FindingsOfAChainThatCannotBeDesignedNameTheirPlace) {
    const std::string bad = write_study([](Study& s) {
        std::get<ParametricSpec>(s.channels[0].edit().stages[2].edit().spec.edit()).frequency_hz =
            30000;
    });
    const Call lines = run("judge " + bad + " --channel zenith");
    EXPECT_EQ(lines.code, 1);
    EXPECT_NE(lines.out.find("UNDECIDED: channels[0].stages[2].frequency_hz: 30000 Hz"),
              std::string::npos)
        << lines.out;
    const Call json = run("judge " + bad + " --channel zenith --json");
    EXPECT_EQ(test::json_at(json.out, "/0/place"), "\"corridor[0]\"") << json.out;
}

TEST_F(Strict, MemoryThatCannotBeHadIsSaid) {
#if defined(__SANITIZE_ADDRESS__) || defined(__SANITIZE_THREAD__)
    GTEST_SKIP() << "the sanitizer itself needs more";
#endif
    const std::string program = test::batch_program();
    const std::string err = scratch.file("err").string();
    const int status = std::system(("ulimit -v 300000; " + program + " impulse " + study
                                    + " --channel zenith --length 100000000 >/dev/null 2>" + err)
                                       .c_str());
    EXPECT_EQ(WEXITSTATUS(status), 2);
    EXPECT_EQ(test::bytes_of(err), "memory: has run out; ask for less at once, or free some\n");
}

} // namespace
} // namespace syntonon
