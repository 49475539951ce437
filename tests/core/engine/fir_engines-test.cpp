// FIRs at work: the sum itself and transforms of parts, against one another and against the sum
// written out.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/engine/direct_fir.h"
#include "core/engine/partitioned_fir.h"
#include "tests/support/in_blocks.h"
#include "tests/support/noise.h"

#include <algorithm>
#include <cmath>
#include <gtest/gtest.h>
#include <memory>
#include <numeric>
#include <random>

namespace syntonon {
namespace {

// In long double; later by so many samples.
std::vector<double> convolved_by_hand(const std::vector<double>& taps, const std::vector<double>& x,
                                      std::size_t late) {
    std::vector<double> y(x.size());
    for (std::size_t n = late; n < x.size(); ++n) {
        long double sum = 0;
        for (std::size_t k = 0; k < taps.size() && k + late <= n; ++k) {
            sum += static_cast<long double>(taps[k]) * x[n - late - k];
        }
        y[n] = static_cast<double>(sum);
    }
    return y;
}

double greatest_difference(const std::vector<double>& a, const std::vector<double>& b) {
    double greatest = 0;
    for (std::size_t i = 0; i < a.size(); ++i) {
        greatest = std::max(greatest, std::abs(a[i] - b[i]));
    }
    return greatest;
}

double size_of(const std::vector<double>& taps) {
    return std::accumulate(taps.begin(), taps.end(), 0.0,
                           [](double sum, double tap) { return sum + std::abs(tap); });
}

TEST(DirectFir, IsTheSumWrittenOut) {
    for (const std::size_t length : {1, 2, 3, 63, 64, 300}) {
        const auto taps = noise(length, 1), x = noise(1000, 2);
        DirectFir engine(taps);
        EXPECT_LE(greatest_difference(in_blocks(engine, x, 90, 3), convolved_by_hand(taps, x, 0)),
                  1e-15 * size_of(taps))
            << length;
    }
}

TEST(DirectFir, OfNoTapsIsSilent) {
    DirectFir engine({});
    EXPECT_EQ(in_blocks(engine, noise(50, 1), 8, 1), std::vector<double>(50, 0.0));
}

TEST(PartitionedFir, ItsSegmentsCoverEveryTapOnceAndInTime) {
    for (const std::size_t taps : {1, 64, 65, 511, 512, 513, 4096, 5000, 65536, 100001}) {
        for (const Partition& partition :
             {Partition{}, Partition{64, 4096, 8, false}, Partition{64, 64, 1, true},
              Partition{128, 128, 1, false}, Partition{32, 32768, 2, true}}) {
            std::size_t covered = partition.has_direct_head ? partition.least : 0;
            const std::size_t late = partition.has_direct_head ? 0 : partition.least;
            for (const PartitionSegment& segment : segments_of(taps, partition)) {
                EXPECT_EQ(segment.first, covered) << taps;
                EXPECT_GE(segment.first + late, segment.block) << "its block is not full yet";
                EXPECT_EQ(segment.block % partition.least, 0u);
                EXPECT_LE(segment.block, std::max(partition.most, partition.least));
                EXPECT_GT(segment.count, 0u);
                covered = segment.first + segment.count * segment.block;
            }
            EXPECT_GE(covered, taps);
        }
    }
}

TEST(PartitionedFir, EqualsTheSumTo1e12) {
    for (const std::size_t length : {1, 40, 64, 65, 700, 4097, 9000}) {
        for (const Partition& partition :
             {Partition{}, Partition{64, 4096, 8, false}, Partition{64, 64, 1, true},
              Partition{128, 128, 1, false}, Partition{16, 256, 2, true}}) {
            const auto taps = noise(length, 4), x = noise(6000, 5);
            PartitionedFir engine(taps, partition);
            const auto expected = convolved_by_hand(taps, x, engine.added_latency());
            const double loudest = std::abs(
                *std::ranges::max_element(expected, {}, [](double v) { return std::abs(v); }));
            EXPECT_LE(greatest_difference(in_blocks(engine, x, 200, 6), expected), 1e-12 * loudest)
                << length << " taps in blocks from " << partition.least << " to " << partition.most;
        }
    }
}

TEST(PartitionedFir, BlocksChangeNoBitAndResetIsRest) {
    const auto taps = noise(5000, 7), x = noise(12000, 8);
    PartitionedFir engine(taps);
    const auto whole = in_blocks(engine, x, 12000, 1);
    for (const std::size_t most : {1, 7, 64, 65, 1000}) {
        engine.reset();
        EXPECT_EQ(in_blocks(engine, x, most, 9), whole) << most;
    }
}

TEST(PartitionedFir, NothingComesLateWithADirectHead) {
    std::vector<double> taps(3000, 0.0), impulse(4000, 0.0);
    taps[0] = taps[64] = taps[512] = taps[2999] = 1;
    impulse[100] = 1;
    PartitionedFir engine(taps);
    EXPECT_EQ(engine.added_latency(), 0u);
    const auto y = in_blocks(engine, impulse, 64, 1);
    for (const std::size_t at : {100, 164, 612, 3099}) {
        EXPECT_NEAR(y[at], 1, 1e-13) << at;
        EXPECT_NEAR(y[at - 1], 0, 1e-13) << at;
    }
    PartitionedFir late(taps, {64, 4096, 8, false});
    EXPECT_EQ(late.added_latency(), 64u);
    EXPECT_NEAR(in_blocks(late, impulse, 64, 1)[164], 1, 1e-13);
}

} // namespace
} // namespace syntonon
