// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/signal_json.h"

#include "core/study/compared_chain.h"
#include "core/study/problems.h"
#include "core/study/study_change.h"
#include "core/study/study_json.h"

#include <fmt/format.h>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

Study study_of_signals(std::vector<Signal> signals) {
    Study study = empty_study();
    for (Signal& signal : signals) {
        study.test_signals.emplace_back(std::move(signal));
    }
    return study;
}

std::string problem_in(const std::string& signal) {
    const auto read = study_from_json(fmt::format(
        R"({{"format": "syntonon-study", "version": 1, "sample_rate_hz": 48000, "signals": [{}]}})",
        signal));
    return read ? "" : to_text(read.error());
}

TEST(SignalJson, EveryKindComesBack) {
    std::vector<Signal> signals;
    for (Recipe recipe : all_recipes()) {
        // No number as a new one begins with.
        std::visit(
            [](auto& spec) {
                for (const auto& field : fields_of(spec)) {
                    field.set(spec, field.steps == FieldSteps::whole ? *field.get(spec) + 1
                                                                     : *field.get(spec) + 0.25);
                }
            },
            recipe);
        if (auto* file = std::get_if<FileRecipe>(&recipe)) {
            *file = {"sounds/a.wav", "xxh3-1", 2, 1.5, true};
        } else if (auto* mix = std::get_if<MixRecipe>(&recipe)) {
            mix->signal = mix->disturbance = "impulse";
        } else if (auto* sweep = std::get_if<SweptToneRecipe>(&recipe)) {
            sweep->pace = SweepPace::linear;
        } else if (auto* chord = std::get_if<SawChordRecipe>(&recipe)) {
            chord->frequencies_hz = {55.5};
        } else if (auto* notes = std::get_if<NotesRecipe>(&recipe)) {
            notes->wave = NoteWave::triangle;
            notes->notes = {{0.25, 0.75, 61.5, 0.5}, {0, 2, 40, 1}};
        }
        const std::string kind(kind_of(recipe));
        signals.push_back({kind, "A " + kind, {LengthUnit::samples, 640}, recipe, {}});
    }
    Study study = study_of_signals(std::move(signals));
    study.channels[0].edit().bench = {"tone", "mix", {"take:a", "channel:b"}};
    study.channels[0].edit().bench.modulation = {
        3, 5, 250, 0.5, 90, -0.5, 6.5, ModulationWave::square, 1, 0.5};
    const auto back = study_from_json(json_from_study(study));
    ASSERT_TRUE(back) << to_text(back.error());
    EXPECT_TRUE(back->warnings.empty());
    EXPECT_EQ(back->study, study);
}

TEST(SignalJson, WhatIsLeftOutIsAsANewOneBegins) {
    const auto read = study_from_json(
        R"({"format": "syntonon-study", "version": 1, "sample_rate_hz": 48000,
            "signals": [{"id": "a", "kind": "tone", "frequency_hz": 50, "colour": "loud"}]})");
    ASSERT_TRUE(read);
    const Signal& signal = *read->study.test_signals.at(0);
    EXPECT_EQ(signal.name, "a");
    EXPECT_EQ(signal.length, SignalLength());
    EXPECT_EQ(std::get<ToneRecipe>(signal.recipe), (ToneRecipe{50, 0, 0}));
    // What is not known is kept.
    EXPECT_EQ(read->warnings.size(), 1U);
    EXPECT_EQ(study_from_json(json_from_study(read->study))->study, read->study);
}

TEST(SignalJson, RefusesNamingThePlace) {
    EXPECT_TRUE(problem_in(R"({"id": "a", "kind": "jingle"})")
                    .starts_with("signals[0].kind: “jingle” is not a kind of signal"));
    EXPECT_TRUE(problem_in(R"({"id": "a", "kind": "tone", "peak_db": 1e9})")
                    .starts_with("signals[0].peak_db: 1000000000 is out of range"));
    EXPECT_TRUE(problem_in(R"({"id": "a", "kind": "white_noise", "seed": 1.5})")
                    .starts_with("signals[0].seed: "));
    EXPECT_TRUE(problem_in(R"({"id": "a", "kind": "tone", "length_s": 0})")
                    .starts_with("signals[0].length_s: "));
    EXPECT_TRUE(problem_in(R"({"id": "a", "kind": "tone", "length_s": 1, "length_samples": 1})")
                    .starts_with("signals[0].length_samples: "));
    EXPECT_TRUE(problem_in(R"({"id": "a", "kind": "mix", "signal": "b"})")
                    .starts_with("signals[0].disturbance: "));
    EXPECT_TRUE(problem_in(R"({"id": "a", "kind": "tone"}, {"id": "a", "kind": "step"})")
                    .starts_with("signals[1].id: "));
}

TEST(SignalJson, ABenchThatNamesNoSignalIsAProblem) {
    Study study = study_of_signals({{"a", "A", {}, ToneRecipe(), {}}});
    study.channels[0].edit().bench = {"a", "b"};
    const auto problems = problems_of(study);
    ASSERT_EQ(problems.size(), 1U);
    EXPECT_EQ(problems[0].place, "channels[0].bench.reference");
}

TEST(SignalJson, AChainThatIsNotThereIsAProblem) {
    Study study = study_of_signals({});
    study.channels.emplace_back(Channel{});
    study.channels[1].edit().id = "other";
    Channel& channel = study.channels[0].edit();
    channel.takes.emplace_back(Take{"t", "T", true, {}});
    channel.bench.compared = {key_of(*channel.takes[0]), key_of(*study.channels[1])};
    EXPECT_TRUE(problems_of(study).empty());
    channel.bench.compared = {"words:d"};
    EXPECT_EQ(problems_of(study).size(), 1U) << "no such delivery";
    study.deliveries.emplace_back();
    study.deliveries[0].id = "d";
    study.deliveries[0].name = "D";
    EXPECT_EQ(problems_of(study).size(), 1U) << "for no processor";
    study.deliveries[0].processor = "reed-28";
    EXPECT_TRUE(problems_of(study).empty());
    channel.bench.compared = {key_of(*channel.takes[0]), key_of(*study.channels[1])};
    study.channels[1].edit().domain = Domain::analog;
    channel.bench.compared.insert(channel.bench.compared.begin(), {"take:u", "other"});
    const auto problems = problems_of(study);
    ASSERT_EQ(problems.size(), 3U);
    EXPECT_TRUE(to_text(problems[0])
                    .starts_with("channels[0].bench.compared[0]: there is no chain “take:u”"));
    EXPECT_TRUE(
        to_text(problems[1]).starts_with("channels[0].bench.compared[1]: “other” names no chain"));
    EXPECT_TRUE(to_text(problems[2])
                    .starts_with("channels[0].bench.compared[3]: “channel:other” is analog"));
}

TEST(SignalJson, ChangesOfSignalsAreCounted) {
    const Study before = study_of_signals({{"a", "A", {}, ToneRecipe(), {}}});
    Study after = before;
    after.test_signals[0].edit().recipe = StepRecipe();
    after.test_signals.emplace_back(Signal{"b", "B", {}, StepRecipe(), {}});
    EXPECT_EQ(to_text(change_between(before, after)), "1 signal changed, 1 signal added");
}

} // namespace
} // namespace syntonon
