// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/runner.h"

#include "core/study/kinds.h"
#include "tests/support/test_designer.h"

#include <chrono>
#include <condition_variable>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

using namespace std::chrono_literals;

DesignJob job(double hz) {
    return {"peak", parametric(ParametricShape::peak, hz, 6, 1), brief_at(48000)};
}

class RunnerTest : public testing::Test {
protected:
    RunnerTest() {
        designer.is_slow = [](const StageSpec&) { return true; };
    }
    // The runner says so often that something is done.
    void wait_for(int done) {
        std::unique_lock lock(mutex);
        ASSERT_TRUE(changed.wait_for(lock, 20s, [&] { return times_done >= done; }));
    }
    template <class Condition>
    static bool soon(Condition condition) {
        for (int i = 0; i < 20000 && !condition(); ++i) {
            std::this_thread::sleep_for(1ms);
        }
        return condition();
    }
    bool has(double hz) { return store->find(job(hz).spec, brief_at(48000)) != nullptr; }

    std::mutex mutex;
    std::condition_variable changed;
    int times_done = 0;
    TestDesigner designer;
    std::shared_ptr<DesignStore> store =
        std::make_shared<DesignStore>(DesignStore::usual_bytes, designer);
    Runner runner{store,
                  [this] {
                      const std::lock_guard lock(mutex);
                      ++times_done;
                      changed.notify_all();
                  },
                  2};
};

TEST_F(RunnerTest, MakesWhatIsWantedAndSaysSo) {
    runner.want({job(100), job(200), job(300)});
    wait_for(3);
    EXPECT_TRUE(has(100) && has(200) && has(300));
    EXPECT_TRUE(runner.states().empty());
    EXPECT_EQ(designer.designs, 3);
}

TEST_F(RunnerTest, ReportsProgress) {
    designer.steps_of_ms = 100000;
    runner.want({job(100), job(200), job(300)});
    ASSERT_TRUE(soon([&] { return runner.states().at(0).done > 0; }));
    EXPECT_EQ(runner.states().size(), 3u);
    EXPECT_EQ(runner.states()[0].name, "peak");
    EXPECT_FALSE(runner.states()[0].is_stopped);
    EXPECT_EQ(runner.states()[2].done, 0) << "it has two threads";
}

TEST_F(RunnerTest, WhatIsOvertakenIsStoppedAndNotHeardOfAgain) {
    designer.steps_of_ms = 100000;
    runner.want({job(100)});
    ASSERT_TRUE(soon([&] { return designer.designs == 1; }));
    designer.steps_of_ms = 1;
    runner.want({job(200)});
    wait_for(1);
    ASSERT_TRUE(soon([&] { return designer.stops == 1; }));
    EXPECT_FALSE(has(100));
    EXPECT_TRUE(has(200));
    EXPECT_EQ(times_done, 1);
}

TEST_F(RunnerTest, WhatIsStillWantedGoesOn) {
    designer.steps_of_ms = 300;
    runner.want({job(100)});
    ASSERT_TRUE(soon([&] { return designer.designs == 1; }));
    runner.want({job(200), job(100)});
    wait_for(2);
    EXPECT_EQ(designer.designs, 2) << "not begun again";
    EXPECT_EQ(designer.stops, 0);
}

TEST_F(RunnerTest, StopsWhenToldAndStartsAgainWhenTold) {
    designer.steps_of_ms = 100000;
    runner.want({job(100)});
    ASSERT_TRUE(soon([&] { return designer.designs == 1; }));
    runner.stop();
    ASSERT_TRUE(soon([&] { return designer.stops == 1; }));
    ASSERT_EQ(runner.states().size(), 1u);
    EXPECT_TRUE(runner.states()[0].is_stopped);
    runner.want({job(100)});
    std::this_thread::sleep_for(20ms);
    EXPECT_EQ(designer.designs, 1) << "wanted as before, stopped as before";
    designer.steps_of_ms = 1;
    runner.start_again();
    wait_for(1);
    EXPECT_TRUE(has(100));
}

TEST_F(RunnerTest, AnotherSpecIsNotStoppedBecauseTheLastOneWas) {
    designer.steps_of_ms = 100000;
    runner.want({job(100)});
    runner.stop();
    designer.steps_of_ms = 1;
    runner.want({job(101)});
    wait_for(1);
    EXPECT_TRUE(has(101));
}

TEST_F(RunnerTest, RefusalsAreResults) {
    runner.want({job(30000)});
    wait_for(1);
    EXPECT_FALSE(*store->find(job(30000).spec, brief_at(48000)));
    EXPECT_TRUE(runner.states().empty());
}

TEST_F(RunnerTest, ManyWishesInARow) {
    designer.steps_of_ms = 2;
    for (int i = 0; i < 200; ++i) {
        runner.want({job(100 + i), job(100 + i / 2)});
        if (i % 17 == 0) {
            runner.stop();
            runner.start_again();
        }
    }
    ASSERT_TRUE(soon([&] { return runner.states().empty(); }));
    EXPECT_TRUE(has(299));
    EXPECT_TRUE(has(199));
}

TEST(RunnersEnd, StopsWhatIsUnderWay) {
    TestDesigner designer;
    designer.steps_of_ms = 1000000;
    const auto store = std::make_shared<DesignStore>(DesignStore::usual_bytes, designer);
    {
        Runner runner(
            store, [] {}, 1);
        runner.want({job(100), job(200)});
        while (designer.designs == 0) {
            std::this_thread::sleep_for(1ms);
        }
    }
    EXPECT_EQ(designer.stops, 1);
    EXPECT_EQ(designer.designs, 1) << "the other one was not begun";
}

} // namespace
} // namespace syntonon
