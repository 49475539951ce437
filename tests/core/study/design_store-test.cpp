// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/design_store.h"

#include "core/filter/gain.h"
#include "core/study/kinds.h"
#include "tests/support/test_designer.h"

#include <atomic>
#include <chrono>
#include <gtest/gtest.h>
#include <thread>

namespace syntonon {
namespace {

StageSpec stored_peak(double hz) {
    return parametric(ParametricShape::peak, hz, 6, 1);
}

StageSpec noise_taps(std::size_t count, double first) {
    std::vector<double> values(count, 0.5);
    values[0] = first;
    return TapsSpec{std::make_shared<const std::vector<double>>(std::move(values))};
}

TEST(DesignStore, MakesADesignOnceForEverySpecAndRate) {
    DesignStore store;
    EXPECT_EQ(store.find(stored_peak(100), brief_at(48000)), nullptr);
    const auto first = store.design(stored_peak(100), brief_at(48000));
    EXPECT_EQ(store.design(stored_peak(100), brief_at(48000)), first);
    EXPECT_EQ(store.find(stored_peak(100), brief_at(48000)), first);
    EXPECT_EQ(store.designs_made(), 1u);
    EXPECT_NE(store.design(stored_peak(100), brief_at(96000)), first);
    EXPECT_NE(store.design(stored_peak(101), brief_at(48000)), first);
    EXPECT_EQ(store.designs_made(), 3u);
}

TEST(DesignStore, LooksOnlyAtWhatAKindNeeds) {
    DesignStore store;
    Brief brief = brief_at(48000);
    const auto alone = store.design(stored_peak(100), brief);
    brief.above = Filter(Gain{2});
    brief.wished = std::make_shared<Wished>(Wished{{{100}, {1}, {}, {}, {}}});
    EXPECT_EQ(store.design(stored_peak(100), brief), alone);
}

TEST(DesignStore, KeepsRefusalsToo) {
    DesignStore store;
    const auto refused = store.design(stored_peak(30000), brief_at(48000));
    ASSERT_FALSE(*refused);
    EXPECT_EQ(refused->error().place, "frequency_hz");
    EXPECT_EQ(store.design(stored_peak(30000), brief_at(48000)), refused);
}

TEST(DesignStore, LetsGoWhatWasUsedLongestAgo) {
    constexpr std::size_t taps = 10000, one = taps * 24;
    DesignStore store(3 * one + 8000);
    for (const double first : {1.0, 2.0, 3.0}) {
        store.design(noise_taps(taps, first), brief_at(48000));
    }
    EXPECT_EQ(store.size(), 3u);
    store.design(noise_taps(taps, 1), brief_at(48000)); // used again
    store.design(noise_taps(taps, 4), brief_at(48000));
    EXPECT_EQ(store.size(), 3u);
    EXPECT_LE(store.bytes(), 3 * one + 8000);
    EXPECT_NE(store.find(noise_taps(taps, 1), brief_at(48000)), nullptr);
    EXPECT_EQ(store.find(noise_taps(taps, 2), brief_at(48000)), nullptr);
    const auto held = store.design(noise_taps(10 * taps, 5), brief_at(48000));
    EXPECT_TRUE(*held) << "larger than everything allowed: handed out all the same";
}

TEST(DesignStore, FindsWhatSomebodyStillHolds) {
    constexpr std::size_t taps = 10000;
    DesignStore store(1000); // holds nothing but the last one
    auto held = store.design(noise_taps(taps, 1), brief_at(48000));
    store.design(noise_taps(taps, 2), brief_at(48000));
    EXPECT_EQ(store.size(), 1u);
    EXPECT_EQ(store.design(noise_taps(taps, 1), brief_at(48000)), held);
    EXPECT_EQ(store.designs_made(), 2u) << "not again";
    store.design(noise_taps(taps, 2), brief_at(48000));
    EXPECT_EQ(store.designs_made(), 3u) << "nobody held that one";
    held.reset();
    store.design(noise_taps(taps, 3), brief_at(48000));
    EXPECT_EQ(store.find(noise_taps(taps, 1), brief_at(48000)), nullptr);
}

TEST(DesignStore, DesignsAgainExactlyWhenSomethingAboveChanges) {
    TestDesigner designer;
    designer.needs = [](const StageSpec&) { return Needs{false, false, true}; };
    DesignStore store(DesignStore::usual_bytes, designer);
    Brief brief = brief_at(48000);
    brief.above = parametric_filter(parametric(ParametricShape::peak, 500, 3, 2), 48000).value();
    store.design(stored_peak(100), brief);
    EXPECT_EQ(designer.designs, 1);
    brief.wished = std::make_shared<Wished>();
    store.design(stored_peak(100), brief);
    EXPECT_EQ(designer.designs, 1) << "not what it asked to be told";
    // Equal, though made anew.
    brief.above = parametric_filter(parametric(ParametricShape::peak, 500, 3, 2), 48000).value();
    store.design(stored_peak(100), brief);
    EXPECT_EQ(designer.designs, 1);
    brief.above = parametric_filter(parametric(ParametricShape::peak, 501, 3, 2), 48000).value();
    store.design(stored_peak(100), brief);
    EXPECT_EQ(designer.designs, 2);
}

TEST(DesignStore, AStoppedDesignIsNotKept) {
    TestDesigner designer;
    designer.steps_of_ms = 100000;
    DesignStore store(DesignStore::usual_bytes, designer);
    const Watch watch;
    DesignStore::Result result;
    std::thread worker([&] { result = store.design(stored_peak(100), brief_at(48000), watch); });
    while (watch.done() == 0) {
        std::this_thread::sleep_for(std::chrono::milliseconds(1));
    }
    watch.stop();
    worker.join();
    EXPECT_FALSE(*result);
    EXPECT_EQ(store.find(stored_peak(100), brief_at(48000)), nullptr);
    EXPECT_EQ(store.size(), 0u);
}

TEST(DesignStore, MayBeAskedFromManyThreads) {
    DesignStore store(200'000); // small: lets go while others ask
    std::vector<std::thread> threads;
    std::atomic<int> wrong = 0;
    for (int t = 0; t < 4; ++t) {
        threads.emplace_back([&] {
            for (int i = 0; i < 300; ++i) {
                const double hz = 100 + i % 20;
                const auto made = store.design(stored_peak(hz), brief_at(48000));
                const double level = (*made)->filter.response_at(hz, 48000).magnitude_db;
                wrong += std::abs(level - 6) > 1e-9 ? 1 : 0;
                store.design(noise_taps(2000, hz), brief_at(48000));
            }
        });
    }
    for (std::thread& thread : threads) {
        thread.join();
    }
    EXPECT_EQ(wrong, 0);
    EXPECT_LE(store.bytes(), 200'000u);
}

} // namespace
} // namespace syntonon
