// Instruments and plug-ins, compiled, loaded and run: they must do what the bench does.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/instrument.h"

#include "core/engine/filter_engine.h"
#include "core/exchange/instrument_files.h"
#include "core/exchange/sound_taps.h"
#include "core/study/kinds.h"
#include "tests/support/scratch.h"

#include <algorithm>
#include <cmath>
#include <cstdlib>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

Study study_of_instrument(std::vector<StageSpec> specs) {
    Study study;
    study.name = "Bright \"water\"";
    Channel channel;
    channel.id = "aurora";
    channel.name = "Aurora";
    for (StageSpec& spec : specs) {
        Stage stage;
        stage.id = "s" + std::to_string(channel.stages.size() + 1);
        stage.spec = std::move(spec);
        channel.stages.emplace_back(std::move(stage));
    }
    study.channels.emplace_back(std::move(channel));
    return study;
}

Expected<Instrument> instrument_from(const Study& study) {
    Briefs briefs;
    return instrument_of(study, *study.channels[0], briefs);
}

LadderSpec diode_ladder() {
    LadderSpec ladder;
    ladder.type = modelled::LadderType::diode;
    ladder.frequency_hz = 800;
    ladder.resonance = 0.9;
    ladder.drive_db = 12;
    ladder.bass_compensation = 0.5;
    return ladder;
}

std::vector<StageSpec> equaliser() {
    ParametricSpec shelf = parametric(ParametricShape::low_shelf, 120, 5, 0.7);
    ParametricSpec matched = parametric(ParametricShape::peak, 9000, 3, 1);
    matched.mapping = ParametricMapping::nyquist_matched;
    GainSpec gain;
    gain.gain_db = -2;
    gain.invert = true;
    DelaySpec delay;
    delay.value = 7;
    return {parametric(ParametricShape::peak, 1000, -6, 2),    shelf, matched, gain, delay,
            parametric(ParametricShape::high_pass, 40, 0, 0.4)};
}

int run_in(const test::Scratch& scratch, const std::string& command) {
    return std::system(("cd " + scratch.folder().string() + " && " + command).c_str());
}

void write_all(const test::Scratch& scratch, const std::vector<DeliveredText>& texts,
               const std::string& stem = "made") {
    for (const DeliveredText& text : texts) {
        const auto path = scratch.folder() / (stem + text.ending);
        std::filesystem::create_directories(path.parent_path());
        scratch.write(path.string(), text.text);
    }
}

TEST(Instrument, HasAParameterForAllThatIsSet) {
    const auto made = instrument_from(study_of_instrument({diode_ladder(), GainSpec()}));
    ASSERT_TRUE(made) << to_text(made.error());
    std::vector<std::string> symbols;
    for (const InstrumentParameter& parameter : made->parameters) {
        symbols.push_back(parameter.symbol);
        EXPECT_LE(parameter.least, parameter.usual);
        EXPECT_LE(parameter.usual, parameter.most);
    }
    EXPECT_EQ(symbols, (std::vector<std::string>{"diode_ladder_frequency", "diode_ladder_resonance",
                                                 "diode_ladder_drive", "gain_gain"}));
    EXPECT_FALSE(made->to_the_last_bit) << "a gain beside it";
    EXPECT_FALSE(made->is_of_one_rate());
    EXPECT_EQ(made->played(), &made->parts[0]);
    EXPECT_EQ(made->study.find('"'), std::string::npos);
}

TEST(Instrument, KeepsNamesApart) {
    const auto made = instrument_from(study_of_instrument({diode_ladder(), diode_ladder()}));
    ASSERT_TRUE(made);
    EXPECT_EQ(made->parameters[3].symbol, "diode_ladder_2_frequency");
}

TEST(Instrument, RefusesWhatItCannotBe) {
    const auto place_of = [](const Study& study) {
        const auto made = instrument_from(study);
        return made ? std::string() : made.error().place;
    };
    TapsSpec taps;
    taps.taps = std::make_shared<const std::vector<double>>(std::vector<double>{1, 2, 3});
    EXPECT_NE(place_of(study_of_instrument({diode_ladder(), taps})).find("s2"), std::string::npos);
    SplitSpec split;
    split.branches.resize(2);
    Stage inner;
    inner.id = "inner";
    inner.spec = diode_ladder();
    split.branches[0].stages.emplace_back(inner);
    EXPECT_NE(place_of(study_of_instrument({split})).find("s1"), std::string::npos);
    EXPECT_NE(place_of(study_of_instrument({})).find("aurora"), std::string::npos);
    Study analog = study_of_instrument({parametric(ParametricShape::peak, 100, 1, 1)});
    analog.channels[0].edit().domain = Domain::analog;
    EXPECT_NE(place_of(analog).find("aurora"), std::string::npos);
}

TEST(InstrumentSource, OfModelledStagesIsTheBenchToTheLastBit) {
    StateVariableSpec state_variable;
    state_variable.response = modelled::StateVariableResponse::high_shelf;
    state_variable.gain_db = 4;
    state_variable.in_series = 2;
    const auto made =
        instrument_from(study_of_instrument({diode_ladder(), state_variable, LadderSpec()}));
    ASSERT_TRUE(made) << to_text(made.error());
    EXPECT_TRUE(made->to_the_last_bit);
    const test::Scratch scratch;
    write_all(scratch, instrument_texts(*made));
    EXPECT_EQ(run_in(scratch, "make -s -C made_cpp CXXFLAGS='-O1 -Werror -pedantic' > out.txt"), 0)
        << test::bytes_of(scratch.file("out.txt"));
    const std::string said = test::bytes_of(scratch.file("out.txt"));
    EXPECT_NE(said.find("as the bench, to the last bit"), std::string::npos) << said;
    EXPECT_NE(said.find("a voice among others is as alone"), std::string::npos) << said;
    EXPECT_NE(said.find("stays within bounds"), std::string::npos) << said;
}

// A sound of its own through the host, against the chain.
TEST(InstrumentSource, OfSectionsFiltersAFileAsTheChainDoes) {
    const Study study = study_of_instrument(equaliser());
    const auto made = instrument_from(study);
    ASSERT_TRUE(made) << to_text(made.error());
    EXPECT_TRUE(made->is_of_one_rate());
    const test::Scratch scratch;
    write_all(scratch, instrument_texts(*made));
    scratch.write("in.wav", *sound_of_taps(made->input, 48000, SoundFormat::wav));
    ASSERT_EQ(run_in(scratch, "make -s -C made_cpp CXXFLAGS='-O1 -Werror' > out.txt && "
                              "made_cpp/host in.wav out.wav"),
              0)
        << test::bytes_of(scratch.file("out.txt"));
    const auto heard = taps_from_sound(scratch.file("out.wav"));
    ASSERT_TRUE(heard) << to_text(heard.error());
    ASSERT_EQ(heard->taps.size(), made->output.size());
    for (std::size_t n = 0; n < made->output.size(); ++n) {
        ASSERT_NEAR(heard->taps[n], made->output[n], 1e-6) << n;
    }
    EXPECT_NE(run_in(scratch, "made_cpp/host in.wav out.wav nothing=1 2> out.txt"), 0);
    EXPECT_NE(test::bytes_of(scratch.file("out.txt")).find("peak_frequency"), std::string::npos)
        << "the way out names what there is";
    EXPECT_NE(run_in(scratch, "made_cpp/host not_there.wav out.wav 2> out.txt"), 0);
}

// Built, found, described and run by independent tools.
TEST(InstrumentPlugin, IsLoadedAndFilters) {
    const auto made = instrument_from(study_of_instrument({diode_ladder()}));
    ASSERT_TRUE(made);
    const test::Scratch scratch;
    write_all(scratch, lv2_texts(*made), "bundles/made");
    ASSERT_EQ(run_in(scratch, "make -s -C bundles/made.lv2 CXXFLAGS='-O1 -Werror'"), 0);
    const std::string uri = "urn:syntonon:bright-water:aurora";
    const std::string here = "LV2_PATH=" + scratch.folder().string() + "/bundles:/usr/lib/lv2 ";
    ASSERT_EQ(run_in(scratch, here + "lv2ls > list.txt"), 0);
    EXPECT_NE(test::bytes_of(scratch.file("list.txt")).find(uri), std::string::npos);
    ASSERT_EQ(run_in(scratch, here + "lv2info " + uri + " > info.txt 2> errors.txt"), 0);
    const std::string info = test::bytes_of(scratch.file("info.txt"));
    EXPECT_NE(info.find("diode_ladder_resonance"), std::string::npos) << info;
    EXPECT_NE(info.find("Default:     800.0"), std::string::npos) << info;
    EXPECT_EQ(test::bytes_of(scratch.file("errors.txt")), "");
    scratch.write("in.wav", *sound_of_taps(made->input, 48000, SoundFormat::wav));
    ASSERT_EQ(run_in(scratch, here + "lv2apply -i in.wav -o out.wav " + uri), 0);
    const auto heard = taps_from_sound(scratch.file("out.wav"));
    ASSERT_TRUE(heard) << to_text(heard.error());
    for (std::size_t n = 0; n < std::min(heard->taps.size(), made->output.size()); ++n) {
        ASSERT_NEAR(heard->taps[n], made->output[n], 1e-5) << n;
    }
    ASSERT_EQ(
        run_in(scratch, here + "lv2apply -i in.wav -o low.wav -c diode_ladder_frequency 60 " + uri),
        0);
    const auto low = taps_from_sound(scratch.file("low.wav"));
    ASSERT_TRUE(low);
    const auto power = [](const std::vector<double>& x) {
        double sum = 0;
        for (std::size_t n = x.size() / 2; n < x.size(); ++n) {
            sum += x[n] * x[n];
        }
        return sum;
    };
    EXPECT_LT(power(low->taps), 0.3 * power(heard->taps)) << "the port moves it";
}

} // namespace
} // namespace syntonon
