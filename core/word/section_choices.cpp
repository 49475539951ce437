// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/word/section_choices.h"

#include "core/filter/roots.h"
#include "core/word/words_around.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <iterator>
#include <utility>

namespace syntonon {
namespace {

constexpr std::size_t few_to_choose_for = 4; // of which more choices can be gone through jointly
constexpr int gain_steps = 8;                // either way
constexpr double gain_step_db = 0.75;

double spread_of(const std::vector<double>& deviation) {
    const auto [least, most] = std::ranges::minmax(deviation);
    return (most - least) / 2;
}

// How many are kept.
struct MostChoices {
    std::size_t of_poles, of_outputs, in_all; // of_outputs: with the same poles and gain
};

class ChoiceFinder {
public:
    ChoiceFinder(const Biquad& section, std::size_t number, const WordFormat& format,
                 const WordPlaces& places, const MostChoices& most)
        : section_(section), number_(number), format_(format), places_(places), most_(most),
          word_(coefficient_values(format.sections)), ideal_(places.levels_of(section)) {}

    // The best of them, those with the least spread first. Refused where none fits.
    Expected<SectionChoices> made() {
        const auto poles = pole_choices();
        if (!poles) {
            return tl::unexpected(poles.error());
        }
        for (int step = -gain_steps; step <= gain_steps; ++step) {
            for (const StructuredSection& words : *poles) {
                add_outputs(words, step * gain_step_db);
            }
        }
        if (choices_.empty()) {
            // What does not fit, said as of the nearest words.
            auto nearest = nearest_section(section_, number_, format_);
            return nearest ? refuse(fmt::format("section {}", number_), "has no words that fit",
                                    "choose more bits")
                           : tl::unexpected(nearest.error());
        }
        keep_best();
        return SectionChoices{std::move(choices_), tried_};
    }

private:
    void round_numbers(StructuredSection& words, const std::vector<std::size_t>& which) const {
        for (const std::size_t i : which) {
            words.values[i] = rounded(words.values[i], word_, Rounding::nearest);
        }
    }

    // Words for the poles, by how little the denominator's level changes but for a gain.
    Expected<std::vector<StructuredSection>> pole_choices() {
        auto start = structured(section_, format_.structure);
        if (!start) {
            return tl::unexpected(nearest_section(section_, number_, format_).error());
        }
        const Network& network = network_of(format_.structure, start->real_poles);
        round_numbers(*start, network.pole_numbers);
        const std::vector<double> wanted = places_.levels_of({1, 0, 0, section_.a1, section_.a2});
        std::vector<std::pair<double, StructuredSection>> found;
        const int reach = network.pole_numbers.size() <= 2 ? 2 : 1;
        each_around(*start, network.pole_numbers, reach, step_of(word_),
                    [&](const StructuredSection& words) {
                        ++tried_;
                        const Biquad made = biquad_of(words, format_.structure);
                        const bool fits_numbers =
                            std::ranges::all_of(network.pole_numbers, [&](std::size_t i) {
                                return holds(format_, network, i, words.values[i]);
                            });
                        if (!fits_numbers
                            || unstable_poles(roots_of(Biquad{1, 0, 0, made.a1, made.a2})) > 0) {
                            return;
                        }
                        found.emplace_back(
                            spread_of(difference_of(places_.levels_of({1, 0, 0, made.a1, made.a2}),
                                                    wanted)),
                            words);
                    });
        std::ranges::stable_sort(found, std::less<>(), [](const auto& each) { return each.first; });
        std::vector<StructuredSection> best;
        for (std::size_t i = 0; i < std::min(found.size(), most_.of_poles); ++i) {
            best.push_back(found[i].second);
        }
        return best;
    }

    // What comes out of those poles, as near to the section's numerator as their words can be.
    void add_outputs(const StructuredSection& poles, double gain_db) {
        const Biquad made = biquad_of(poles, format_.structure);
        const double gain = std::pow(10, gain_db / 20);
        auto words = structured(
            {section_.b0 * gain, section_.b1 * gain, section_.b2 * gain, made.a1, made.a2},
            format_.structure);
        if (!words || words->real_poles != poles.real_poles) {
            return;
        }
        const Network& network = network_of(format_.structure, poles.real_poles);
        for (const std::size_t i : network.pole_numbers) {
            words->values[i] = poles.values[i];
        }
        if (!holds(format_, *words)) {
            return;
        }
        round_numbers(*words, network.output_numbers);
        std::vector<SectionChoice> best;
        each_around(
            *words, network.output_numbers, 1, step_of(word_), [&](const StructuredSection& each) {
                ++tried_;
                if (!holds(format_, each)) {
                    return;
                }
                std::vector<double> deviation =
                    difference_of(places_.levels_of(biquad_of(each, format_.structure)), ideal_);
                const double spread = spread_of(deviation);
                if (std::isfinite(spread)) {
                    best.push_back({each, std::move(deviation), gain_db, spread});
                }
            });
        std::ranges::stable_sort(best, std::less<>(), &SectionChoice::spread_db);
        best.resize(std::min(best.size(), most_.of_outputs));
        std::ranges::move(best, std::back_inserter(choices_));
    }

    void keep_best() {
        std::ranges::stable_sort(choices_, std::less<>(), &SectionChoice::spread_db);
        if (choices_.size() > most_.in_all) {
            choices_.resize(most_.in_all);
        }
    }

    const Biquad& section_;
    std::size_t number_;
    const WordFormat& format_;
    const WordPlaces& places_;
    MostChoices most_;
    Word word_;
    std::vector<double> ideal_;
    std::vector<SectionChoice> choices_;
    std::size_t tried_ = 0;
};

} // namespace

Expected<SectionChoices> section_choices(const Biquad& section, std::size_t number, std::size_t of,
                                         const WordFormat& format, const WordPlaces& places) {
    const MostChoices most =
        of <= few_to_choose_for ? MostChoices{12, 2, 144} : MostChoices{8, 1, 72};
    return ChoiceFinder(section, number, format, places, most).made();
}

} // namespace syntonon
