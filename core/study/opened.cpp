// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/study/opened.h"

#include "core/base/number_text.h"
#include "core/design/all_pass_pair.h"
#include "core/filter/form.h"
#include "core/math/polynomial_zeros.h"
#include "core/study/kinds.h"

#include <algorithm>
#include <cmath>
#include <fmt/format.h>
#include <span>

namespace syntonon {
namespace {

using Complex = std::complex<double>;

constexpr double worth_saying = 1e-12;

// "frequency, gain and q"
std::string joined(const std::vector<std::string>& words) {
    std::string text;
    for (std::size_t i = 0; i < words.size(); ++i) {
        text += i == 0 ? "" : i + 1 == words.size() ? " and " : ", ";
        text += words[i];
    }
    return text;
}

template <class Spec>
std::string given_up_of(const Spec& spec) {
    if constexpr (Composed<Spec>) {
        return "the stages that it holds";
    }
    std::vector<std::string> captions;
    for (const auto& field : fields_of(spec)) {
        const std::string caption = lower_case(field.caption);
        if (field.get(spec) && !caption.starts_with("or ")) {
            captions.push_back(caption);
        }
    }
    return captions.empty() ? std::string() : joined(captions);
}

// Told by a frequency or a time among its numbers, or those of the stages that it holds.
bool follows_the_rate(const StageSpec& spec) {
    return std::visit(
        []<class Spec>(const Spec& s) {
            if constexpr (Composed<Spec>) {
                for (const Chain* chain : chains_of(s)) {
                    for (const auto& stage : *chain) {
                        if (follows_the_rate(stage->spec)) {
                            return true;
                        }
                    }
                }
            }
            return std::ranges::any_of(fields_of(s), [&](const auto& field) {
                return field.get(s)
                       && (field.dimension == Dimension::frequency
                           || field.dimension == Dimension::time);
            });
        },
        *spec);
}

std::string given_up_words(const Stage& stage) {
    std::string fields =
        std::visit([](const auto& spec) { return given_up_of(spec); }, *stage.spec);
    std::string words = fields.empty() ? "" : fields + " can no longer be turned";
    if (follows_the_rate(stage.spec)) {
        words += words.empty() ? "" : "; ";
        words += "with another sample rate it would sit at other frequencies";
    }
    return words;
}

std::string lost_words(const char* what, double part) {
    return part > worth_saying
               ? fmt::format("{} multiplied out again are off by up to {} of themselves", what,
                             text_with_digits(part, 2))
               : std::string();
}

Expected<Roots> roots_of_stage(const Filter& filter) {
    if (!filter.roots()) {
        return tl::unexpected(filter.roots().error());
    }
    const Roots& roots = *filter.roots();
    if (roots.zeros.size() > most_roots || roots.poles.size() > most_roots) {
        return refuse("", fmt::format("has more than {} zeros or poles", most_roots),
                      "open a smaller stage");
    }
    return roots;
}

Expected<Opened> as_roots(const Filter& filter) {
    return roots_of_stage(filter).map([](const Roots& roots) {
        Opened opened;
        if (roots.delay_samples > 0) {
            opened.specs.emplace_back(DelaySpec{DelayUnit::samples, roots.delay_samples});
        }
        opened.specs.emplace_back(RootsSpec{roots.zeros, roots.poles, roots.gain});
        if (roots.uncertainty > worth_saying) {
            opened.lost =
                fmt::format("some roots lie so close together that they are known to {} only",
                            text_with_digits(roots.uncertainty, 2));
        }
        return opened;
    });
}

// How far the zeros are that come out of the coefficients again.
double round_trip(const std::vector<double>& row) {
    const auto again = polynomial_zeros(row);
    return again ? again->round_trip : 1;
}

Expected<Opened> as_recursion(const Filter& filter) {
    if (filter.is_analog()) {
        return refuse("", "an analog filter has no difference equation", "map its channel first");
    }
    if (const auto* taps = std::get_if<Taps>(&filter.form())) {
        const auto values = taps->values();
        if (values.size() <= most_recursion_order + 1) {
            return Opened{{RecursionSpec{{values.begin(), values.end()}, {1}, {}}}, {}, {}};
        }
    }
    const auto roots = roots_of_stage(filter);
    if (!roots) {
        return tl::unexpected(roots.error());
    }
    const auto delay = static_cast<std::size_t>(roots->delay_samples);
    const std::size_t order = std::max(roots->zeros.size() + delay, roots->poles.size());
    if (order > most_recursion_order) {
        return refuse(
            "", fmt::format("is of order {}", order),
            fmt::format("a recursion goes up to {}: open into sections", most_recursion_order));
    }
    RecursionSpec spec;
    const auto row = multiplied_out(roots->gain, roots->zeros);
    spec.b.assign(delay, 0.0);
    spec.b.insert(spec.b.end(), row.begin(), row.end());
    spec.a = multiplied_out(1, roots->poles);
    const double off = std::max(roots->gain != 0 ? round_trip(row) : 0, round_trip(spec.a));
    return Opened{{spec}, lost_words("the coefficients", off), {}};
}

// How far coefficients are off that come back from the roots they were opened into.
double off_by(const RecursionSpec& spec, const Roots& roots) {
    const auto difference = [](const std::vector<double>& is, std::span<const double> wanted) {
        double greatest = 0, largest = 0;
        for (const double v : wanted) {
            largest = std::max(largest, std::abs(v));
        }
        for (std::size_t k = 0; k < wanted.size(); ++k) {
            const double value = k < is.size() ? is[k] : 0;
            greatest = std::max(greatest, std::abs(value - wanted[k])
                                              / (wanted[k] == 0 ? largest : std::abs(wanted[k])));
        }
        return greatest;
    };
    const double a0 = spec.a[0];
    const auto delay = std::min(static_cast<std::size_t>(roots.delay_samples), spec.b.size());
    return std::max(
        difference(multiplied_out(roots.gain * a0, roots.zeros), std::span(spec.b).subspan(delay)),
        difference(multiplied_out(a0, roots.poles), spec.a));
}

Expected<Opened> as_sections(const Filter& filter) {
    if (filter.is_analog()) {
        return refuse("", "an analog filter has no difference equation", "map its channel first");
    }
    // What runs as taps, late or round a loop can be had as sections, too, where its roots can.
    auto sections = filter.sections();
    if (!sections && roots_of_stage(filter)) {
        sections = filter_of_roots(*filter.roots()).sections();
    }
    return sections.map([](const Cascade& cascade) {
        std::vector<Coefficients> fractions;
        for (const Biquad& s : cascade.sections) {
            fractions.push_back({{s.b0, s.b1, s.b2}, {1, s.a1, s.a2}});
        }
        return Opened{{in_one_stage(fractions)}, {}, {}};
    });
}

Stage stage_of_roots(const Roots& roots) {
    Stage stage;
    stage.spec = RootsSpec{roots.zeros, roots.poles, roots.gain};
    return stage;
}

Expected<Opened> as_all_pass_pair(const Filter& filter) {
    return all_pass_pair(filter).map([](const AllPassPair& pair) {
        SplitSpec split;
        for (std::size_t i = 0; i < pair.branches.size(); ++i) {
            split.branches[i].factor = pair.factors[i];
            if (!pair.branches[i].poles.empty()) { // a first order leaves one branch a wire
                split.branches[i].stages.emplace_back(stage_of_roots(pair.branches[i]));
            }
        }
        return Opened{{split}, {}, {}};
    });
}

Expected<Opened> as_taps(const Filter& filter) {
    const auto* taps = std::get_if<Taps>(&filter.form());
    if (taps == nullptr) {
        return refuse("", "has no end, or is not an FIR alone",
                      "put an FIR “from the stages above” below it");
    }
    const auto values = taps->values();
    const auto shared = std::make_shared<const std::vector<double>>(values.begin(), values.end());
    return Opened{{TapsSpec{shared}}, {}, {}};
}

} // namespace

StageSpec in_one_stage(std::span<const Coefficients> fractions) {
    RepeatSpec repeat;
    repeat.count = 1;
    for (const Coefficients& fraction : fractions) {
        Stage stage;
        stage.spec = RecursionSpec{fraction.numerator, fraction.denominator, {}};
        repeat.stages.emplace_back(std::move(stage));
    }
    return repeat.stages.size() == 1 ? repeat.stages[0]->spec : StageSpec(repeat);
}

Expected<Opened> opened(const Stage& stage, const Filter& filter, OpenedAs as) {
    auto made = as == OpenedAs::roots           ? as_roots(filter)
                : as == OpenedAs::recursion     ? as_recursion(filter)
                : as == OpenedAs::taps          ? as_taps(filter)
                : as == OpenedAs::all_pass_pair ? as_all_pass_pair(filter)
                                                : as_sections(filter);
    if (!made) {
        return made;
    }
    if (made->specs.size() == 1 && made->specs[0] == stage.spec) {
        return refuse("", "is that already", "change it as it is");
    }
    const auto* recursion = std::get_if<RecursionSpec>(&*stage.spec);
    if (recursion != nullptr && !recursion->start && filter.roots() && filter.roots()->gain != 0) {
        made->lost = lost_words("the coefficients", off_by(*recursion, *filter.roots()));
    }
    made->given_up = given_up_words(stage);
    return made;
}

} // namespace syntonon
