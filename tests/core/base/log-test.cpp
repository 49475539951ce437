// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/log.h"

#include "tests/support/scratch.h"

#include <cstdlib>
#include <gtest/gtest.h>
#include <thread>

namespace syntonon {
namespace {

class Log : public testing::Test {
protected:
    void SetUp() override { ::setenv("XDG_STATE_HOME", scratch.folder().c_str(), 1); }
    void TearDown() override {
        start_log("over", {LogLevel::off}); // leaves the scratch folder's files
        ::unsetenv("XDG_STATE_HOME");
    }
    std::string text(const char* name = "syntonon/probe.log") {
        return test::bytes_of(scratch.file(name));
    }

    test::Scratch scratch;
};

TEST_F(Log, WritesWhatIsOfItsLevelOrAbove) {
    const auto file = start_log("probe", {LogLevel::warning});
    ASSERT_TRUE(file) << to_text(file.error());
    EXPECT_EQ(*file, scratch.file("syntonon/probe.log"));
    EXPECT_FALSE(logs(LogLevel::info));
    log(LogLevel::info, "quiet {}", 1);
    log(LogLevel::warning, "heard {}", 2);
    log(LogLevel::error, "braces {{}} stay");
    log_line(LogLevel::error, "so do {} these");
    EXPECT_EQ(text().find("quiet"), std::string::npos);
    EXPECT_NE(text().find("warning: heard 2\n"), std::string::npos) << text();
    EXPECT_NE(text().find("error: braces {} stay\n"), std::string::npos) << text();
    EXPECT_NE(text().find("error: so do {} these\n"), std::string::npos) << text();
}

TEST_F(Log, NothingReachesTheTerminalUnlessAsked) {
    testing::internal::CaptureStderr();
    testing::internal::CaptureStdout();
    ASSERT_TRUE(start_log("probe", {LogLevel::debug}));
    log_line(LogLevel::error, "silent");
    EXPECT_EQ(testing::internal::GetCapturedStderr(), "");
    testing::internal::CaptureStderr();
    ASSERT_TRUE(start_log("probe", {LogLevel::debug, true}));
    log_line(LogLevel::debug, "spoken");
    EXPECT_NE(testing::internal::GetCapturedStderr().find("debug: spoken"), std::string::npos);
    EXPECT_EQ(testing::internal::GetCapturedStdout(), "");
}

TEST_F(Log, AFolderThatCannotBeMadeIsAProblemAndNoReasonToStop) {
    scratch.write("syntonon", "a file where the folder belongs");
    const auto file = start_log("probe", {});
    ASSERT_FALSE(file);
    EXPECT_NE(file.error().place.find("probe.log"), std::string::npos);
    EXPECT_FALSE(file.error().way_out.empty());
    log_line(LogLevel::error, "goes nowhere, and that is all right");
}

TEST_F(Log, OffMakesNoFile) {
    ASSERT_TRUE(start_log("probe", {LogLevel::off}));
    log_line(LogLevel::error, "never");
    EXPECT_FALSE(std::filesystem::exists(scratch.file("syntonon")));
}

TEST_F(Log, KeepsThreeFilesOfAMegabyte) {
    ASSERT_TRUE(start_log("probe", {}));
    const std::string long_line(10'000, 'x');
    for (int i = 0; i < 450; ++i) {
        log_line(LogLevel::info, long_line);
    }
    int files = 0;
    for (const auto& entry : std::filesystem::directory_iterator(scratch.file("syntonon"))) {
        EXPECT_LE(entry.file_size(), 1'000'000u);
        ++files;
    }
    EXPECT_EQ(files, 3);
}

TEST_F(Log, ThreadsWriteWholeLines) {
    ASSERT_TRUE(start_log("probe", {}));
    std::vector<std::thread> threads;
    for (int t = 0; t < 4; ++t) {
        threads.emplace_back([] {
            for (int i = 0; i < 100; ++i) {
                log_line(LogLevel::info, "abcdefgh");
            }
        });
    }
    for (std::thread& thread : threads) {
        thread.join();
    }
    const std::string all = text();
    EXPECT_EQ(std::count(all.begin(), all.end(), '\n'), 400);
    std::size_t whole = 0;
    for (auto at = all.find(": abcdefgh\n"); at != std::string::npos;
         at = all.find(": abcdefgh\n", at + 1)) {
        ++whole;
    }
    EXPECT_EQ(whole, 400u);
}

TEST(StateFolder, FollowsTheSpecification) {
    ::setenv("XDG_STATE_HOME", "/somewhere", 1);
    EXPECT_EQ(state_folder(), "/somewhere/syntonon");
    ::setenv("XDG_STATE_HOME", "relative", 1);
    const char* home = std::getenv("HOME");
    EXPECT_EQ(state_folder(), std::filesystem::path(home != nullptr ? home : "")
                                  / (home != nullptr ? ".local/state/syntonon" : ""));
    ::unsetenv("XDG_STATE_HOME");
}

TEST(LogLevelKeys, ComeBack) {
    for (const LogLevel level :
         {LogLevel::debug, LogLevel::info, LogLevel::warning, LogLevel::error, LogLevel::off}) {
        EXPECT_EQ(log_level_from_key(key_of(level)), level);
    }
    EXPECT_FALSE(log_level_from_key("loud"));
}

} // namespace
} // namespace syntonon
