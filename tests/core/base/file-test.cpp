// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/file.h"

#include "tests/support/scratch.h"

#include <csignal>
#include <filesystem>
#include <functional>
#include <gtest/gtest.h>
#include <sys/resource.h>
#include <sys/stat.h>
#include <sys/wait.h>
#include <unistd.h>

namespace syntonon {
namespace {

namespace fs = std::filesystem;
using test::Scratch;

std::size_t files_in(const fs::path& folder) {
    return static_cast<std::size_t>(
        std::distance(fs::directory_iterator(folder), fs::directory_iterator()));
}

TEST(File, WritesAndReadsBack) {
    const Scratch scratch;
    const std::string bytes("a\0b\nc", 5);
    ASSERT_TRUE(write_file_atomically(scratch.file("x"), bytes));
    EXPECT_EQ(read_file(scratch.file("x"), 100).value(), bytes);
    EXPECT_EQ(files_in(scratch.folder()), 1u) << "no temporary file is left";
}

TEST(File, KeepsPermissionsAndFollowsLinks) {
    const Scratch scratch;
    const auto real = scratch.write("real", "old");
    fs::permissions(real, fs::perms::owner_read | fs::perms::owner_write | fs::perms::group_read);
    fs::create_symlink(real, scratch.file("link"));
    ASSERT_TRUE(write_file_atomically(scratch.file("link"), "new"));
    EXPECT_TRUE(fs::is_symlink(scratch.file("link")));
    EXPECT_EQ(test::bytes_of(real), "new");
    EXPECT_EQ(fs::status(real).permissions(),
              fs::perms::owner_read | fs::perms::owner_write | fs::perms::group_read);
}

TEST(File, SaysWhatIsWrongAndTheWayOut) {
    const Scratch scratch;
    const auto missing = read_file(scratch.file("none"), 100);
    ASSERT_FALSE(missing);
    EXPECT_EQ(missing.error().place, scratch.file("none").string());
    EXPECT_FALSE(missing.error().way_out.empty());
    EXPECT_NE(read_file(scratch.folder(), 100).error().reason.find("folder"), std::string::npos);
    EXPECT_NE(write_file_atomically(scratch.folder(), "x").error().reason.find("folder"),
              std::string::npos);
    EXPECT_FALSE(write_file_atomically(scratch.file("no/such/folder/x"), "x"));
    scratch.write("large", std::string(1000, 'x'));
    EXPECT_NE(read_file(scratch.file("large"), 999).error().reason.find("MB"), std::string::npos);
}

TEST(File, DoesNotWaitForAPipe) {
    const Scratch scratch;
    ASSERT_EQ(::mkfifo(scratch.file("pipe").c_str(), 0600), 0);
    EXPECT_FALSE(read_file(scratch.file("pipe"), 100));
}

// Runs `body` in a process of its own, as an ordinary user even when the tests run as root, and
// returns its exit code.
int in_child(const fs::path& folder, const std::function<bool()>& body) {
    constexpr uid_t nobody = 65534;
    if (::geteuid() == 0) {
        EXPECT_EQ(::chown(folder.c_str(), nobody, nobody), 0);
    }
    const pid_t child = ::fork();
    if (child == 0) {
        const bool ordinary = ::geteuid() != 0 || ::setuid(nobody) == 0;
        ::_exit(ordinary && body() ? 0 : 1);
    }
    int status = -1;
    ::waitpid(child, &status, 0);
    return WEXITSTATUS(status);
}

TEST(File, AReadOnlyFolderLosesNothing) {
    const Scratch scratch;
    scratch.write("x", "old");
    fs::permissions(scratch.folder(), fs::perms::owner_read | fs::perms::owner_exec);
    EXPECT_EQ(in_child(scratch.folder(),
                       [&] {
                           const auto written = write_file_atomically(scratch.file("x"), "new");
                           return !written && written.error().place == scratch.file("x").string()
                                  && !written.error().way_out.empty();
                       }),
              0);
    EXPECT_EQ(test::bytes_of(scratch.file("x")), "old");
    EXPECT_EQ(files_in(scratch.folder()), 1u);
}

// /dev/full is the kernel's always-full disk, but a file cannot be renamed onto it; a small tmpfs
// needs rights that a test may lack. A limit on file size stops the write in the same place.
TEST(File, AFullDiskLeavesTheOldFile) {
    const Scratch scratch;
    scratch.write("x", "old");
    const std::string big(1 << 20, 'x');
    EXPECT_EQ(in_child(scratch.folder(),
                       [&] {
                           ::signal(SIGXFSZ, SIG_IGN);
                           const rlimit limit{4096, 4096};
                           ::setrlimit(RLIMIT_FSIZE, &limit);
                           const auto written = write_file_atomically(scratch.file("new"), big);
                           return !written && !written.error().way_out.empty();
                       }),
              0);
    EXPECT_FALSE(fs::exists(scratch.file("new")));
    EXPECT_EQ(test::bytes_of(scratch.file("x")), "old");
    EXPECT_EQ(files_in(scratch.folder()), 1u);
}

TEST(File, WhatIsStagedChangesNothingUntilItIsPutInPlace) {
    const test::Scratch scratch;
    const auto path = scratch.write("a.txt", "old");
    {
        auto staged = StagedFile::write(path, "new");
        ASSERT_TRUE(staged);
        EXPECT_EQ(test::bytes_of(path), "old");
    }
    EXPECT_EQ(test::bytes_of(path), "old");
    EXPECT_EQ(files_in(scratch.folder()), 1u) << "what was not put in place has gone";
    auto staged = StagedFile::write(path, "new");
    ASSERT_TRUE(staged && staged->put_in_place());
    EXPECT_EQ(test::bytes_of(path), "new");
    EXPECT_EQ(files_in(scratch.folder()), 1u);
}

} // namespace
} // namespace syntonon
