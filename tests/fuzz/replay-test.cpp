// What the fuzzer once found, and a few good inputs: each must keep the targets' promises.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/fuzz/targets.h"

#include "tests/support/places.h"
#include "tests/support/scratch.h"

#include <filesystem>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

class FuzzCorpus : public testing::TestWithParam<fuzz::Target> {};

TEST_P(FuzzCorpus, KeepsItsPromises) {
    const std::filesystem::path folder = test::source_folder() + "/tests/fuzz/corpus";
    std::size_t files = 0;
    for (const auto& entry : std::filesystem::directory_iterator(folder / GetParam().name)) {
        SCOPED_TRACE(entry.path().string());
        GetParam().run(test::bytes_of(entry.path()));
        ++files;
    }
    EXPECT_GE(files, 3u) << "a corpus that is not there proves nothing";
}

TEST(FuzzCorpusDeathTest, ABrokenPromiseEndsTheProgram) {
    EXPECT_DEATH(fuzz::promise(false, "the sky is up"), "broken promise: the sky is up");
    fuzz::promise(true, "nothing happens");
}

INSTANTIATE_TEST_SUITE_P(All, FuzzCorpus, testing::ValuesIn(fuzz::all_targets),
                         [](const auto& target) { return std::string(target.param.name); });

} // namespace
} // namespace syntonon
