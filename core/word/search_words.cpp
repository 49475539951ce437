// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/word/search_words.h"

#include "core/filter/in_sections.h"
#include "core/filter/roots.h"
#include "core/word/search_taps.h"
#include "core/word/section_choices.h"
#include "core/word/words_around.h"

#include <algorithm>
#include <cmath>
#include <random>
#include <utility>

namespace syntonon {
namespace {

constexpr int beginnings = 10, most_rounds = 8;
constexpr double impossible_cost = 1e9;

using Levels = WordPlaces::Levels;

// One choice for each section, so that all deviations together cost least.
class JointChoice {
public:
    JointChoice(std::vector<std::vector<SectionChoice>> choices, std::vector<double> gain_room_db,
                const WordPlaces& places)
        : choices_(std::move(choices)), gain_room_db_(std::move(gain_room_db)), places_(places),
          chosen_(choices_.size()), sum_(places.size()) {}

    void begin(const std::vector<std::size_t>& chosen) {
        chosen_ = chosen;
        std::ranges::fill(sum_, 0);
        for (std::size_t i = 0; i < chosen_.size(); ++i) {
            add(choice(i), 1);
        }
        cost_ = cost_if_possible();
    }
    // Until no other words of one section, nor of two, cost less.
    void descend(const Watch& watch) {
        for (bool is_better = true; is_better && !watch.is_stopped();) {
            is_better = false;
            for (std::size_t i = 0; i < choices_.size(); ++i) {
                is_better = replace_one(i) || is_better;
            }
            for (std::size_t i = 0; i < choices_.size() && !is_better; ++i) {
                for (std::size_t k = i + 1; k < choices_.size() && !is_better; ++k) {
                    is_better = replace_two(i, k);
                }
            }
        }
    }
    double cost() const { return cost_; }
    const std::vector<double>& deviation_db() const { return sum_; }
    const std::vector<std::size_t>& chosen() const { return chosen_; }
    std::size_t choices_of(std::size_t section) const { return choices_[section].size(); }
    const SectionChoice& choice(std::size_t section) const {
        return choices_[section][chosen_[section]];
    }
    std::size_t tried() const { return tried_; }

private:
    void add(const SectionChoice& choice, double sign) {
        for (std::size_t p = 0; p < sum_.size(); ++p) {
            sum_[p] += sign * choice.deviation_db[p];
        }
    }
    bool is_possible() const {
        double so_far = 0;
        for (std::size_t i = 0; i < chosen_.size(); ++i) {
            so_far += choice(i).gain_db;
            if (so_far > gain_room_db_[i]) {
                return false;
            }
        }
        return true;
    }
    double cost_if_possible() {
        ++tried_;
        const double impossible = is_possible() ? 0 : impossible_cost;
        return impossible + places_.cost_of(sum_);
    }
    bool replace_one(std::size_t i) {
        const std::size_t before = chosen_[i];
        std::size_t best = before;
        double least = cost_ * (1 - 1e-9);
        add(choice(i), -1);
        for (chosen_[i] = 0; chosen_[i] < choices_[i].size(); ++chosen_[i]) {
            const double cost = cost_with(choice(i), least);
            if (cost < least && is_possible()) {
                least = cost;
                best = chosen_[i];
            }
        }
        chosen_[i] = best;
        add(choice(i), 1);
        cost_ = best == before ? cost_ : cost_if_possible();
        return best != before;
    }
    bool replace_two(std::size_t i, std::size_t k) {
        const std::size_t before = chosen_[i];
        const double cost_before = cost_;
        for (std::size_t other = 0; other < choices_[i].size(); ++other) {
            if (other == before) {
                continue;
            }
            add(choice(i), -1);
            chosen_[i] = other;
            add(choice(i), 1);
            cost_ = cost_before; // only what is better than that counts
            if (replace_one(k)) {
                return true;
            }
        }
        add(choice(i), -1);
        chosen_[i] = before;
        add(choice(i), 1);
        cost_ = cost_before;
        return false;
    }
    // Given up as soon as it is more than `least`.
    double cost_with(const SectionChoice& choice, double least) {
        ++tried_;
        return places_.cost_of(sum_, choice.deviation_db, least);
    }

    std::vector<std::vector<SectionChoice>> choices_;
    std::vector<double> gain_room_db_;
    const WordPlaces& places_;
    std::vector<std::size_t> chosen_;
    std::vector<double> sum_;
    double cost_ = 0;
    std::size_t tried_ = 0;
};

// By how much the gains taken so far may make the signal after each section louder.
std::vector<double> gain_rooms_db(const Cascade& cascade, const Word& data) {
    std::vector<double> rooms;
    const double holds_db = 20 * std::log10(greatest_of(data));
    for (const double peak : peaks_along(cascade)) {
        // Where it is beyond full scale already, it does not become louder.
        rooms.push_back(std::max(0.0, holds_db - 20 * std::log10(peak)) + 0.01);
    }
    if (!rooms.empty()) {
        rooms.back() = std::numeric_limits<double>::infinity(); // that is the chain's own gain
    }
    return rooms;
}

// The best of several descents: from what is best section by section, then from the best so far
// with a third of the sections disturbed.
void descend_often(JointChoice& joint, std::size_t sections, const Watch& watch) {
    std::vector<std::size_t> best(sections);
    joint.begin(best);
    joint.descend(watch);
    best = joint.chosen();
    double least = joint.cost();
    std::mt19937 random(1);
    for (int i = 1; i < beginnings && sections > 1 && !watch.is_stopped(); ++i) {
        std::vector<std::size_t> start = best;
        for (std::size_t k = 0; k < std::max<std::size_t>(2, sections / 3); ++k) {
            const std::size_t which = random() % sections;
            start[which] = random() % joint.choices_of(which);
        }
        joint.begin(start);
        joint.descend(watch);
        if (joint.cost() < least) {
            least = joint.cost();
            best = joint.chosen();
        }
        watch.report(0.5 + 0.5 * i / beginnings);
    }
    joint.begin(best);
}

struct FoundSections {
    std::vector<StructuredSection> words;
    std::vector<double> deviation_db;
    std::size_t tried = 0;
};

// Those numbers of one section a step up or down, if the whole chain gains by it.
bool polish_numbers(const std::vector<std::size_t>& numbers, const Levels& ideal,
                    const WordFormat& format, const WordPlaces& places, StructuredSection& words,
                    FoundSections& found) {
    const auto deviation_of = [&](const StructuredSection& each) {
        return difference_of(places.levels_of(biquad_of(each, format.structure)), ideal);
    };
    const Levels others = difference_of(found.deviation_db, deviation_of(words));
    double least = places.cost_of(found.deviation_db) * (1 - 1e-9);
    bool is_better = false;
    each_around(StructuredSection(words), numbers, 1, step_of(coefficient_values(format.sections)),
                [&](const StructuredSection& each) {
                    ++found.tried;
                    const double cost = places.cost_of(deviation_of(each), others, least);
                    if (cost < least && holds(format, each)
                        && unstable_poles(roots_of(biquad_of(each, format.structure))) == 0) {
                        least = cost;
                        words = each;
                        is_better = true;
                    }
                });
    const Levels own = deviation_of(words);
    for (std::size_t p = 0; p < own.size(); ++p) {
        found.deviation_db[p] = others[p] + own[p];
    }
    return is_better;
}

// Of up to five numbers all at once, else first those of the poles, then those of what comes out.
bool polish_one(const Levels& ideal, const WordFormat& format, const WordPlaces& places,
                StructuredSection& words, FoundSections& found) {
    const Network& network = network_of(format.structure, words.real_poles);
    std::vector<std::size_t> numbers = network.pole_numbers;
    numbers.insert(numbers.end(), network.output_numbers.begin(), network.output_numbers.end());
    if (numbers.size() <= 5) {
        return polish_numbers(numbers, ideal, format, places, words, found);
    }
    const bool poles = polish_numbers(network.pole_numbers, ideal, format, places, words, found);
    return polish_numbers(network.output_numbers, ideal, format, places, words, found) || poles;
}

void polish(const Cascade& cascade, const WordFormat& format, const WordPlaces& places,
            const Watch& watch, FoundSections& found) {
    std::vector<Levels> ideal;
    for (const Biquad& section : cascade.sections) {
        ideal.push_back(places.levels_of(section));
    }
    bool is_better = true;
    for (int round = 0; round < most_rounds && is_better && !watch.is_stopped(); ++round) {
        is_better = false;
        for (std::size_t i = 0; i < found.words.size(); ++i) {
            is_better = polish_one(ideal[i], format, places, found.words[i], found) || is_better;
        }
    }
}

Expected<FoundSections> found_sections(const Cascade& cascade, const WordFormat& format,
                                       const WordPlaces& places, const Watch& watch) {
    FoundSections found;
    std::vector<std::vector<SectionChoice>> choices;
    for (const Biquad& section : cascade.sections) {
        auto own =
            section_choices(section, choices.size() + 1, cascade.sections.size(), format, places);
        if (!own) {
            return tl::unexpected(own.error());
        }
        found.tried += own->tried;
        choices.push_back(std::move(own->choices));
        watch.report(0.5 * static_cast<double>(choices.size())
                     / static_cast<double>(cascade.sections.size()));
        if (watch.is_stopped()) {
            return refuse("", "the search for words was stopped", "search again");
        }
    }
    JointChoice joint(std::move(choices), gain_rooms_db(cascade, format.sections.data), places);
    descend_often(joint, cascade.sections.size(), watch);
    if (watch.is_stopped()) {
        return refuse("", "the search for words was stopped", "search again");
    }
    found.tried += joint.tried();
    found.deviation_db = joint.deviation_db();
    for (std::size_t i = 0; i < cascade.sections.size(); ++i) {
        found.words.push_back(joint.choice(i).words);
    }
    polish(cascade, format, places, watch, found);
    return found;
}

Expected<SearchedWords> found_words(const SeriesParts& parts, const Cascade& bare,
                                    const SectionArrangement& arrangement, const WordFormat& format,
                                    const WordPlaces& places, const Watch& watch) {
    auto sections = found_sections(arranged(bare, arrangement), format, places, watch);
    if (!sections) {
        return tl::unexpected(sections.error());
    }
    auto taps = searched_taps(parts.taps, format.taps, places, sections->deviation_db, watch);
    if (!taps) {
        return tl::unexpected(taps.error());
    }
    SearchedWords found;
    found.arrangement = arrangement;
    found.tried = sections->tried;
    found.chain = {format.structure,           format.sections,  format.taps,
                   std::move(sections->words), std::move(*taps), parts.delay_samples};
    return found;
}

std::vector<double> deviation_of(const WordChain& chain, const Filter& wished,
                                 const WordPlaces& places) {
    return difference_of(places.levels_of(filter_of(chain)), places.levels_of(wished));
}

} // namespace

Expected<SearchedWords> search_words(const SeriesParts& parts, const WordFormat& format,
                                     const WordAim& aim, const Watch& watch) {
    const WordPlaces places(aim);
    const Filter wished = filter_of(parts);
    SearchedWords best;
    best.arrangement = as_given(parts.cascade);
    auto nearest = nearest_words(parts, format);
    double nearest_cost = std::numeric_limits<double>::infinity();
    if (nearest) {
        const std::vector<double> deviation = deviation_of(*nearest, wished, places);
        best.nearest_worst_db = best.worst_db = greatest_magnitude(deviation);
        best.room_db = places.room_of(deviation);
        best.chain = *nearest;
        nearest_cost = filter_of(*nearest).is_stable() ? places.cost_of(deviation) : nearest_cost;
    }
    if (!format.sections.is_fixed()) { // floats err by their last bit: there is nothing to find
        return nearest ? Expected<SearchedWords>(std::move(best)) : tl::unexpected(nearest.error());
    }
    if (auto ok = nearest_words({}, format); !ok) { // what contradicts itself
        return tl::unexpected(ok.error());
    }
    const Cascade bare = without_bare_gains(parts.cascade);
    const SectionArrangement ways[] = {quiet_arrangement(bare, format), as_given(bare)};
    double least = nearest_cost;
    std::size_t tried = 0;
    std::optional<Problem> problem = nearest ? std::nullopt : std::optional(nearest.error());
    for (const SectionArrangement& arrangement : ways) {
        auto found = found_words(parts, bare, arrangement, format, places, watch);
        if (!found && watch.is_stopped()) {
            return tl::unexpected(found.error());
        }
        if (!found) {
            problem = problem ? problem : found.error();
            continue;
        }
        tried += found->tried;
        const std::vector<double> deviation = deviation_of(found->chain, wished, places);
        if (const double cost = places.cost_of(deviation); cost < least) {
            least = cost;
            found->nearest_worst_db = best.nearest_worst_db;
            found->worst_db = greatest_magnitude(deviation);
            found->room_db = places.room_of(deviation);
            best = std::move(*found);
        }
    }
    if (!std::isfinite(least)) {
        return tl::unexpected(*problem);
    }
    best.tried = tried;
    return best;
}

} // namespace syntonon
