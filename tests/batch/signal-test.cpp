// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/batch/batch_fixture.h"

#include "core/signal/make_signal.h"
#include "tests/support/sounds.h"

namespace syntonon {
namespace {

class SignalCommand : public test::Batch {
protected:
    std::string to(const char* name) const { return " --to " + scratch.file(name).string(); }
    std::string by(const std::string& recipe) const { return "signal --recipe '" + recipe + "'"; }
};

TEST_F(SignalCommand, MakesOneByItsRecipe) {
    const auto call = run(by(R"({"kind": "band_noise", "from_hz": 100, "to_hz": 200, "seed": 4})")
                          + " --sample-rate 8000 --length 0.25" + to("noise.wav"));
    ASSERT_EQ(call.code, 0) << call.err;
    const auto made = *make_signal(BandNoiseRecipe{100, 200, -30, 4}, {8000, 2000});
    const auto read = test::read_sound(scratch.file("noise.wav"));
    ASSERT_EQ(read.size(), made.size());
    for (std::size_t n = 0; n < made.size(); ++n) {
        ASSERT_NEAR(read[n], made[n], 1e-8);
    }
}

TEST_F(SignalCommand, MakesTheStudysOwn) {
    const std::string path = write_study([](Study& changed) {
        changed.test_signals = {
            Signal{"voice", "Voice", {LengthUnit::samples, 24000}, NarrationRecipe{}},
            Signal{"hum", "Hum", {LengthUnit::samples, 24000}, ToneRecipe{50, 0, 0}},
            Signal{"both", "Both", {LengthUnit::samples, 24000}, MixRecipe{"voice", "hum", 0}}};
    });
    ASSERT_EQ(run("signal " + path + " --signal both --words 24" + to("both.flac")).code, 0);
    ASSERT_EQ(run("signal " + path + " --signal voice" + to("voice.wav")).code, 0);
    const auto both = test::read_sound(scratch.file("both.flac"));
    const auto voice = test::read_sound(scratch.file("voice.wav"));
    double power = 0;
    for (std::size_t n = 0; n < both.size(); ++n) {
        power += (both[n] - voice[n]) * (both[n] - voice[n]) / 24000;
    }
    EXPECT_NEAR(power / power_of(voice), 1, 1e-3);
    EXPECT_EQ(run("signal " + path + " --signal fan" + to("x.wav")).err,
              path + ": --signal: there is no signal “fan”; use one of: voice, hum, both\n");
}

TEST_F(SignalCommand, DithersWhenAsked) {
    const std::string soft = by(R"({"kind": "offset", "value": 0.0000076})"); // a quarter step
    ASSERT_EQ(run(soft + " --words 16" + to("plain.wav")).code, 0);
    ASSERT_EQ(run(soft + " --words 16 --dither" + to("dithered.wav")).code, 0);
    const auto mean = [&](const char* name) {
        double sum = 0;
        const auto samples = test::read_sound(scratch.file(name));
        for (const double sample : samples) {
            sum += sample;
        }
        return sum / static_cast<double>(samples.size());
    };
    EXPECT_EQ(mean("plain.wav"), 0);
    EXPECT_NEAR(mean("dithered.wav"), 0.0000076, 3e-7);
}

TEST_F(SignalCommand, SaysWhatIsWrong) {
    const auto refused = [&](const std::string& call) {
        const auto made = run(call);
        EXPECT_EQ(made.code, 2);
        return made.err;
    };
    EXPECT_EQ(refused("signal" + to("x.wav")),
              "signal: STUDY and --signal, or --recipe is required; see syntonon-batch signal "
              "--help\n");
    EXPECT_EQ(refused(by(R"({"kind": "tone", "hz": 3})") + to("x.wav")),
              "--recipe: tone has no “\"hz\":3”; see docs/file-formats.md for its fields\n");
    EXPECT_TRUE(refused(by(R"({"kind": "jingle"})") + to("x.wav"))
                    .starts_with("--recipe: kind: “jingle” is not a kind of signal"));
    EXPECT_EQ(refused(by(R"({"kind": "tone"})") + " --length 1e4" + to("x.wav")),
              "--length: 480000000 samples are more than 16777216; give up to 350 s\n");
    EXPECT_TRUE(refused(by(R"({"kind": "tone"})") + " --sample-rate fast" + to("x.wav"))
                    .starts_with("--sample-rate: “fast” is no sample rate"));
    EXPECT_TRUE(refused(by(R"({"kind": "tone"})") + to("x.mp7"))
                    .starts_with(scratch.file("x.mp7").string() + ": has no ending"));
    EXPECT_TRUE(refused(by(R"({"kind": "tone")") + to("x.wav")).starts_with("--recipe: line 1"));
}

} // namespace
} // namespace syntonon
