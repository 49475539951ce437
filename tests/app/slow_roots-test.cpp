// Zeros of long FIRs, found beside the window.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/app/window_fixture.h"

#include "app/model/plane_roots.h"
#include "app/model/stage_commands.h"

namespace syntonon {
namespace {

class RootsOfLongFirs : public test::Window {
protected:
    void put(int length) {
        FirSpec spec;
        spec.method = LeastSquaresFir();
        spec.length = length;
        add_stage(session(), spec);
    }
    std::size_t shown() {
        std::size_t count = 0;
        for (const PlaneRoot& root : plane_roots(session(), RootsShown::selected_stage)) {
            count += static_cast<std::size_t>(root.count);
        }
        return count;
    }
    bool wait_for(std::size_t count) {
        return QTest::qWaitFor([this, count] { return shown() == count; }, 20'000);
    }
};

TEST_F(RootsOfLongFirs, ComeWhenTheyAreFound) {
    use_empty_channel();
    put(151);
    EXPECT_TRUE(wait_for(150));
}

TEST_F(RootsOfLongFirs, ThoseOfTheFilterBeforeStandMeanwhile) {
    use_empty_channel();
    put(151);
    ASSERT_TRUE(wait_for(150));
    session().edit_stage("longer",
                         [](Stage& stage) { std::get<FirSpec>(stage.spec.edit()).length = 161; });
    EXPECT_FALSE(session().stage_analysis()->filter->has_roots_at_hand());
    EXPECT_EQ(shown(), 150u);
    EXPECT_TRUE(wait_for(160));
}

TEST_F(RootsOfLongFirs, ShortOnesAreThereAtOnce) {
    use_empty_channel();
    put(31);
    EXPECT_EQ(shown(), 30u);
}

} // namespace
} // namespace syntonon
