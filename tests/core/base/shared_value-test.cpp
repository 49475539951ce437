// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/shared_value.h"

#include <gtest/gtest.h>
#include <numeric>
#include <thread>
#include <vector>

namespace syntonon {
namespace {

using Numbers = std::vector<int>;

struct Unseen; // complete only at the end of this file
struct Holder {
    SharedValue<Unseen> unseen;
    Holder();
};

int alive = 0;
struct Counted {
    Counted() { ++alive; }
    Counted(const Counted&) { ++alive; }
    ~Counted() { --alive; }
    bool operator==(const Counted&) const = default;
};

TEST(SharedValue, CopiesShareUntilOneIsEdited) {
    SharedValue<Numbers> one(Numbers{1, 2});
    const SharedValue<Numbers> other = one;
    EXPECT_TRUE(one.same_as(other));
    one.edit().push_back(3);
    EXPECT_FALSE(one.same_as(other));
    EXPECT_EQ(one->size(), 3u);
    EXPECT_EQ(other->size(), 2u);
    const Numbers* before = &*one;
    one.edit().push_back(4);
    EXPECT_EQ(&*one, before) << "nobody shares it, so nothing is copied";
}

TEST(SharedValue, EqualityIsOfValues) {
    const SharedValue<Numbers> one(Numbers{1}), same(Numbers{1}), other(Numbers{2});
    EXPECT_EQ(one, same);
    EXPECT_FALSE(one.same_as(same));
    EXPECT_FALSE(one == other);
}

TEST(SharedValue, TheLastOneTakesTheValueAlong) {
    {
        SharedValue<Counted> one;
        SharedValue<Counted> two = one, three = std::move(one);
        EXPECT_EQ(alive, 1);
        two.edit();
        EXPECT_EQ(alive, 2);
        two = three;
        EXPECT_EQ(alive, 1);
        three = SharedValue<Counted>();
        one = three;
        EXPECT_TRUE(one.same_as(three));
    }
    EXPECT_EQ(alive, 0);
}

TEST(SharedValue, HandsOnWhatIsNotComplete) {
    const Holder holder;
    const Holder copy = holder;
    EXPECT_TRUE(copy.unseen.same_as(holder.unseen));
}

// Under the thread sanitizer: a reader that has let go of its copy has ended its reading before the
// owner, finding itself alone, writes in place.
TEST(SharedValue, ReadersInOtherThreadsAreOverBeforeAnEditInPlace) {
    SharedValue<Numbers> value(Numbers(200, 1));
    std::vector<std::thread> readers;
    std::vector<int> sums(100, 0);
    for (std::size_t round = 0; round < sums.size(); ++round) {
        readers.emplace_back([copy = value, &sum = sums[round]] {
            sum = std::accumulate(copy->begin(), copy->end(), 0);
        });
        for (int k = 0; k < 20; ++k) {
            ++value.edit()[static_cast<std::size_t>(k)];
        }
    }
    for (std::thread& reader : readers) {
        reader.join();
    }
    for (std::size_t round = 0; round < sums.size(); ++round) {
        EXPECT_EQ(sums[round], 200 + 20 * static_cast<int>(round)) << "a copy is of its moment";
    }
}

struct Unseen {
    Numbers numbers;
};
Holder::Holder() : unseen(Unseen{{1}}) {}

} // namespace
} // namespace syntonon
