// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/signal/make_signal.h"

#include "core/base/units.h"
#include "core/signal/spectrum.h"
#include "tests/support/rate.h"

#include <algorithm>
#include <cmath>
#include <gtest/gtest.h>

namespace syntonon {
namespace {

constexpr SignalExtent second{rate, 48000};

std::vector<double> signal_by(const Recipe& recipe, const SignalExtent& extent = second) {
    auto samples = make_signal(recipe, extent);
    EXPECT_TRUE(samples) << to_text(samples.error());
    return samples.value_or(std::vector<double>());
}

double peak_of(const std::vector<double>& signal) {
    double peak = 0;
    for (const double sample : signal) {
        peak = std::max(peak, std::abs(sample));
    }
    return peak;
}

std::string problem_of(const Recipe& recipe, const SignalExtent& extent = second) {
    const auto samples = make_signal(recipe, extent);
    return samples ? "" : to_text(samples.error());
}

bool stands_alone(const Recipe& recipe) {
    return !std::holds_alternative<FileRecipe>(recipe)
           && !std::holds_alternative<MixRecipe>(recipe);
}

TEST(MakeSignal, GivesTheSameFiniteSamplesForTheSameRecipe) {
    for (const Recipe& recipe : all_recipes()) {
        if (!stands_alone(recipe)) {
            continue;
        }
        for (const std::size_t count : {std::size_t(1), std::size_t(7), std::size_t(30011)}) {
            const SignalExtent extent{44100, count};
            const auto signal = signal_by(recipe, extent);
            EXPECT_EQ(signal.size(), count) << kind_of(recipe);
            EXPECT_TRUE(std::ranges::all_of(signal, [](double x) { return std::isfinite(x); }))
                << kind_of(recipe);
            EXPECT_EQ(signal, signal_by(recipe, extent)) << kind_of(recipe);
        }
    }
}

TEST(MakeSignal, ReachesItsPeak) {
    for (Recipe recipe : all_recipes()) {
        std::visit(
            [&](auto& spec) {
                if constexpr (requires { spec.peak_db; }) {
                    spec.peak_db = -12;
                    EXPECT_NEAR(db_from_ratio(peak_of(signal_by(spec))), -12, 0.2) << spec.kind;
                }
            },
            recipe);
    }
}

TEST(MakeSignal, OtherSeedsGiveOtherNoise) {
    for (Recipe recipe : all_recipes()) {
        std::visit(
            [&](auto& spec) {
                if constexpr (requires { spec.seed; }) {
                    const auto one = signal_by(spec);
                    spec.seed = 2;
                    EXPECT_NE(one, signal_by(spec)) << spec.kind;
                }
            },
            recipe);
    }
}

TEST(MakeSignal, RowsAreWhatTheySay) {
    const SignalExtent eight{rate, 8};
    EXPECT_EQ(signal_by(ImpulseRecipe{2, 0}, eight), (std::vector<double>{0, 0, 1, 0, 0, 0, 0, 0}));
    EXPECT_EQ(signal_by(StepRecipe{5, 0}, eight), (std::vector<double>{0, 0, 0, 0, 0, 1, 1, 1}));
    EXPECT_EQ(signal_by(PulseTrainRecipe{4, 2, 0}, eight),
              (std::vector<double>{1, 1, 0, 0, 1, 1, 0, 0}));
    EXPECT_EQ(signal_by(NumbersRecipe{{3, -1}}, eight),
              (std::vector<double>{3, -1, 0, 0, 0, 0, 0, 0}));
    EXPECT_EQ(signal_by(SpikesOnRampRecipe{0, 7, 4, 10}, eight),
              (std::vector<double>{0, 1, 2, 13, 4, 5, 6, 17}));
    EXPECT_EQ(signal_by(OffsetRecipe{-0.25}, {rate, 2}), (std::vector<double>{-0.25, -0.25}));
}

TEST(MakeSignal, ATonesSamplesAreItsSine) {
    const auto tone = signal_by(ToneRecipe{1234.5, 30, -6}, {rate, 4'000'000});
    for (const std::size_t n : {std::size_t(0), std::size_t(1), std::size_t(3'999'999)}) {
        const long double phase =
            2 * 3.14159265358979323846L * 1234.5L * n / 48000 + 30 * 3.14159265358979323846L / 180;
        EXPECT_NEAR(tone[n], ratio_from_db(-6) * static_cast<double>(std::sin(phase)), 1e-10);
    }
}

// Periods from the sign changes of a stretch.
double frequency_around(const std::vector<double>& signal, double at_s) {
    const auto middle = static_cast<std::size_t>(at_s * rate);
    const std::size_t from = middle - 2400, to = middle + 2400;
    int rises = 0;
    double first = 0, last = 0;
    for (std::size_t n = from; n + 1 < to; ++n) {
        if (signal[n] < 0 && signal[n + 1] >= 0) {
            last = static_cast<double>(n) + signal[n] / (signal[n] - signal[n + 1]);
            first = rises == 0 ? last : first;
            ++rises;
        }
    }
    return (rises - 1) * rate / (last - first);
}

TEST(MakeSignal, SweepsRunAtTheirPace) {
    const auto exponential = signal_by(SweptToneRecipe{100, 10000, SweepPace::exponential, 0});
    EXPECT_NEAR(frequency_around(exponential, 0.5), 1000, 30);
    const auto linear = signal_by(SweptToneRecipe{100, 10000, SweepPace::linear, 0});
    EXPECT_NEAR(frequency_around(linear, 0.5), 5050, 30);
    const auto falling = signal_by(SweptToneRecipe{10000, 100, SweepPace::exponential, 0});
    EXPECT_NEAR(frequency_around(falling, 0.5), 1000, 30);
    const auto stepped = signal_by(SteppedToneRecipe{500, 2000, 3, 0});
    EXPECT_NEAR(frequency_around(stepped, 0.15), 500, 1);
    EXPECT_NEAR(frequency_around(stepped, 0.5), 1000, 1);
    EXPECT_NEAR(frequency_around(stepped, 0.85), 2000, 1);
}

Spectrum whole_spectrum(const std::vector<double>& signal) {
    SpectrumSettings settings;
    settings.window.shape = WindowShape::rectangular;
    settings.length = signal.size();
    return level_spectrum(signal, rate, settings);
}

TEST(MakeSignal, TonesOfAMultiToneAreAlikeAndItsCrestIsLow) {
    const auto signal = signal_by(MultiToneRecipe{100, 10000, 21, -6});
    const Spectrum spectrum = whole_spectrum(signal);
    std::vector<double> lines;
    for (const double db : spectrum.db) {
        if (db > -100) {
            lines.push_back(db);
        }
    }
    ASSERT_EQ(lines.size(), 21U);
    EXPECT_NEAR(*std::ranges::max_element(lines), *std::ranges::min_element(lines), 1e-6);
    const double crest_db = db_from_ratio(peak_of(signal)) - db_from_power(power_of(signal));
    EXPECT_LT(crest_db, 13); // of 21 sines in step: 10 lg 42 = 16.2
}

TEST(MakeSignal, ASawtoothHoldsNothingButItsHarmonics) {
    const Spectrum spectrum = whole_spectrum(signal_by(SawChordRecipe{{1000}, 0}));
    const double first = spectrum.db[1000];
    for (std::size_t k = 0; k < spectrum.db.size(); ++k) {
        if (k % 1000 == 0 && k > 0 && k < 24000) {
            EXPECT_NEAR(spectrum.db[k] - first, -db_from_ratio(static_cast<double>(k) / 1000),
                        1e-4);
        } else {
            EXPECT_LT(spectrum.db[k], -120) << k;
        }
    }
}

double power_within(const Spectrum& spectrum, double from_hz, double to_hz) {
    double power = 0;
    for (std::size_t k = 0; k < spectrum.db.size(); ++k) {
        if (spectrum.hz_of(k) >= from_hz && spectrum.hz_of(k) < to_hz) {
            power += std::pow(10, spectrum.db[k] / 10);
        }
    }
    return power;
}

TEST(MakeSignal, NoisesHaveTheirColourAndPower) {
    const SignalExtent long_one{rate, 1 << 19};
    const auto density = [](const std::vector<double>& signal) {
        return density_spectrum(signal, rate, {});
    };
    const auto white = signal_by(WhiteNoiseRecipe{-20, 5}, long_one);
    EXPECT_NEAR(db_from_power(power_of(white) / 0.5), -20, 1e-9);
    const Spectrum flat = density(white);
    EXPECT_NEAR(db_from_power(power_within(flat, 1000, 2000) / power_within(flat, 15000, 16000)), 0,
                0.4);
    const Spectrum pink = density(signal_by(PinkNoiseRecipe{-20, 5}, long_one));
    for (const double hz : {100.0, 800.0, 6400.0}) {
        EXPECT_NEAR(db_from_power(power_within(pink, hz, 2 * hz) / power_within(pink, 1000, 2000)),
                    0, 0.6);
    }
    const Spectrum band = whole_spectrum(signal_by(BandNoiseRecipe{4050, 4780, -30, 3}));
    EXPECT_NEAR(db_from_power(power_within(band, 4000, 4800) / power_within(band, 0, 24000)), 0,
                1e-3);
    EXPECT_LT(band.db[5500], -100);
}

TEST(MakeSignal, PercussionHitsAndDiesAway) {
    const auto clapper = signal_by(ClapperRecipe{400, -3, 1});
    const auto loud = [&](double from_s, double to_s) {
        return power_of(
            std::span(clapper).subspan(static_cast<std::size_t>(from_s * rate),
                                       static_cast<std::size_t>((to_s - from_s) * rate)));
    };
    EXPECT_EQ(loud(0, 0.049), 0);
    EXPECT_GT(loud(0.05, 0.06), 1e5 * loud(0.15, 0.4));
    EXPECT_GT(loud(0.45, 0.46), 0.1 * loud(0.05, 0.06));
}

TEST(MakeSignal, NarrationSpeaksAndPauses) {
    const auto voice = signal_by(NarrationRecipe{}, {rate, 8 * 48000});
    std::vector<double> levels;
    for (std::size_t from = 0; from < voice.size(); from += 2400) {
        levels.push_back(db_from_power(power_of(std::span(voice).subspan(from, 2400)) + 1e-30));
    }
    const auto loud = std::ranges::count_if(levels, [](double db) { return db > -40; });
    const auto silent = std::ranges::count_if(levels, [](double db) { return db < -60; });
    EXPECT_GT(loud, 80);
    EXPECT_GT(silent, 15);
    const Spectrum spectrum = density_spectrum(voice, rate, {});
    EXPECT_GT(power_within(spectrum, 100, 4000), 10 * power_within(spectrum, 5000, 24000));
    EXPECT_GT(power_within(spectrum, 5000, 7000), 3 * power_within(spectrum, 10000, 24000));
}

TEST(MakeSignal, AMixHasItsRatio) {
    const SignalSources sources{{}, [](std::string_view id, const SignalExtent& extent) {
                                    return id == "voice"
                                               ? make_signal(ToneRecipe{1000, 0, -6}, extent)
                                           : id == "fan"
                                               ? make_signal(ToneRecipe{3000, 0, 0}, extent)
                                               : make_signal(OffsetRecipe{0}, extent);
                                }};
    const auto mixed = make_signal(MixRecipe{"voice", "fan", 20}, second, sources);
    ASSERT_TRUE(mixed);
    const Spectrum spectrum = whole_spectrum(*mixed);
    EXPECT_NEAR(spectrum.db[1000], -6, 1e-9);
    EXPECT_NEAR(spectrum.db[3000], -26, 1e-9);
    EXPECT_EQ(to_text(make_signal(MixRecipe{"voice", "silence", 20}, second, sources).error()),
              "disturbance: is silent: there is no ratio to it; choose another one");
}

TEST(MakeSignal, RefusesNamingTheField) {
    EXPECT_EQ(problem_of(ToneRecipe{30000, 0, 0}),
              "frequency_hz: 30000 Hz is not between 0 and half the sample rate (24000 Hz); give a "
              "frequency in between");
    EXPECT_TRUE(problem_of(ToneRecipe{1000, 0, std::nan("")}).starts_with("peak_db: "));
    EXPECT_TRUE(problem_of(SawChordRecipe{{440, 24000}, 0}).starts_with("frequencies_hz[1]: "));
    EXPECT_TRUE(problem_of(SawChordRecipe{{}, 0}).starts_with("frequencies_hz: is missing"));
    EXPECT_TRUE(problem_of(NumbersRecipe{{1, infinity}}).starts_with("values[1]: "));
    EXPECT_TRUE(problem_of(BandNoiseRecipe{200, 100, 0, 1}).starts_with("to_hz: "));
    EXPECT_TRUE(problem_of(MixRecipe{}).starts_with("kind: "));
    EXPECT_TRUE(problem_of(FileRecipe{}).starts_with("kind: "));
}

TEST(SignalLength, CountsSamplesOrSeconds) {
    EXPECT_EQ(samples_of({LengthUnit::seconds, 0.5}, 44100).value(), 22050U);
    EXPECT_EQ(samples_of({LengthUnit::samples, 64}, 44100).value(), 64U);
    EXPECT_EQ(samples_of({LengthUnit::samples, 0}, 44100).error().place, "length_samples");
    EXPECT_EQ(samples_of({LengthUnit::seconds, 4 * 3600.0}, 48000).error().place, "length_s");
    EXPECT_EQ(samples_of({LengthUnit::seconds, std::nan("")}, 48000).error().place, "length_s");
}

} // namespace
} // namespace syntonon
