// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/in_parallel.h"

#include <gtest/gtest.h>
#include <mutex>
#include <set>

namespace syntonon {
namespace {

TEST(InParallel, EachIsDoneOnceBeforeItReturns) {
    for (const std::size_t count :
         {std::size_t(0), std::size_t(1), std::size_t(3), std::size_t(1000)}) {
        std::vector<int> done(count, 0);
        in_parallel(count, [&](std::size_t i) { ++done[i]; });
        EXPECT_EQ(std::ranges::count(done, 1), static_cast<std::ptrdiff_t>(count));
    }
}

TEST(InParallel, OtherCoresHelpWhereThereAreAny) {
    std::mutex lock;
    std::set<std::thread::id> threads;
    in_parallel(64, [&](std::size_t) {
        std::this_thread::sleep_for(std::chrono::milliseconds(2));
        const std::lock_guard held(lock);
        threads.insert(std::this_thread::get_id());
    });
    const std::size_t cores = std::max(1U, std::thread::hardware_concurrency());
    EXPECT_LE(threads.size(), cores);
    EXPECT_EQ(threads.size() > 1, cores > 1);
}

} // namespace
} // namespace syntonon
