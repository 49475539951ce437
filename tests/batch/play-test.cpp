// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/batch/batch_fixture.h"

#include "tests/support/sounds.h"

#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

class Play : public test::Batch {
protected:
    std::vector<double> played(const std::string& more) {
        const std::string to = scratch.file("out.wav").string();
        const auto call = run("play " + study + " --channel aurora " + to + more);
        EXPECT_EQ(call.code, 0) << call.err;
        EXPECT_TRUE(call.out.starts_with("file,frames,channels,")) << call.out;
        return test::read_sound(scratch.file("out.wav"));
    }
};

TEST_F(Play, NotesGoThroughTheLadderAndThroughWhatIsComparedWithIt) {
    const auto ladder = played(""), plain = played(" --instead state_variables");
    ASSERT_EQ(ladder.size(), 144'000u);
    ASSERT_EQ(plain.size(), ladder.size());
    double most = 0, apart = 0;
    for (std::size_t n = 0; n < ladder.size(); ++n) {
        most = std::max(most, std::abs(ladder[n]));
        apart = std::max(apart, std::abs(ladder[n] - plain[n]));
    }
    EXPECT_GT(most, 0.05);
    EXPECT_LT(most, 1);
    EXPECT_GT(apart, 0.01);
    EXPECT_EQ(played(""), ladder) << "to the last bit";
}

TEST_F(Play, RefusesWhatItCannotPlay) {
    const std::string to = " " + scratch.file("out.wav").string();
    const auto none = run("play " + study + " --channel zenith" + to);
    EXPECT_EQ(none.code, 2);
    EXPECT_NE(none.err.find("sends no signal"), std::string::npos) << none.err;
    const auto words = run("play " + study + " --channel aurora --instead words:firmware" + to);
    EXPECT_EQ(words.code, 2);
    EXPECT_NE(words.err.find("state_variables"), std::string::npos) << words.err;
    EXPECT_EQ(run("play " + study + " --channel nobody" + to).code, 2);
    EXPECT_EQ(run("play " + study + " --channel aurora /nowhere/at/all.wav").code, 2);
}

} // namespace
} // namespace syntonon
