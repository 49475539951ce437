// Coefficients of others from a shell.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/batch/batch_fixture.h"

namespace syntonon {
namespace {

class BatchRecognise : public test::Batch {};

TEST_F(BatchRecognise, SaysWhatAFileHolds) {
    const auto file = scratch.write("peak.txt", "1.0128 -1.9683 0.9720 1.9683 -0.9848\n");
    const test::Call call = run("recognise " + file.string());
    ASSERT_EQ(call.code, 0) << call.err;
    EXPECT_NE(call.out.find("\"as\": \"sections\""), std::string::npos) << call.out;
    EXPECT_NE(call.out.find("\"feedback\": \"added\""), std::string::npos);
    EXPECT_NE(call.out.find("\"sign_is_suspect\": false"), std::string::npos);
    EXPECT_NE(call.out.find("\"kind\": \"recursion\""), std::string::npos);
    const test::Call said = run("recognise " + file.string() + " --feedback subtracted");
    EXPECT_NE(said.out.find("\"sign_is_suspect\": true"), std::string::npos);
    EXPECT_NE(run("recognise " + file.string() + " --as taps").out.find("\"taps\": 5"),
              std::string::npos);
}

TEST_F(BatchRecognise, PutsThemIntoAStudy) {
    const auto file = scratch.write("own.hex", "0x0a4cf85 0xf7683c0 0x03067a3 0x05372a2 0xfe0d276\n"
                                               "0x07fbfb5 0xf008097 0x07fbfb5 0x0ff7f40 "
                                               "0xf80806d\n");
    const std::string to = scratch.file("with.syntonon").string();
    const std::string call = "recognise " + file.string() + " --processor reed-28 --into " + study
                             + " --channel aurora --to " + to;
    ASSERT_EQ(run(call).code, 0) << run(call).err;
    EXPECT_EQ(run("check " + to).code, 0);
    const test::Call before = run("respond " + study + " --channel aurora --at 1000");
    const test::Call after = run("respond " + to + " --channel aurora --at 1000");
    EXPECT_NE(before.out, after.out);
    EXPECT_EQ(run(call + " --word Q2.14").code, 2) << "digits beyond the word";
}

TEST_F(BatchRecognise, BadCallsAreOneLineWithAWayOut) {
    const auto file = scratch.write("x.txt", "1 2\n1.2.3\n");
    const test::Call bad = run("recognise " + file.string());
    EXPECT_EQ(bad.code, 2);
    EXPECT_TRUE(bad.out.empty());
    for (const std::string option : {"--as sausages", "--feedback sideways", "--word Q99.99",
                                     "--processor nothing", "--order \"b0 b7\""}) {
        const test::Call call = run("recognise " + file.string() + " " + option);
        EXPECT_EQ(call.code, 2) << option;
        EXPECT_NE(call.err.find(option.substr(0, option.find(' '))), std::string::npos) << call.err;
    }
    EXPECT_EQ(run("recognise /nowhere").code, 2);
    EXPECT_EQ(run("recognise " + file.string() + " --into " + study).code, 2)
        << "a study needs a channel and a place to go";
}

} // namespace
} // namespace syntonon
