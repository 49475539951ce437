// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/feedback_choice.h"

#include "core/design/recursion.h"
#include "core/exchange/section_table.h"

#include <algorithm>
#include <fmt/format.h>

namespace syntonon {
namespace {

constexpr std::size_t most_found_sections = 1000;
constexpr std::size_t most_high_orders = 16; // whose poles take time

using Fractions = std::vector<Coefficients>;

std::string sign_words(FeedbackSign sign) {
    return sign == FeedbackSign::added ? "added" : "subtracted";
}

Expected<void> check_orders(const Fractions& fractions) {
    std::size_t high = 0;
    for (const Coefficients& fraction : fractions) {
        const std::size_t order =
            std::max(fraction.numerator.size(), fraction.denominator.size()) - 1;
        high += order > 2 ? 1 : 0;
        if (order > most_recursion_order) {
            return refuse(
                "",
                fmt::format("is of order {}; recursions go up to {}", order, most_recursion_order),
                "give it in sections");
        }
    }
    return fractions.size() > most_found_sections
               ? refuse("", fmt::format("holds {} sections", fractions.size()),
                        fmt::format("give {} at most", most_found_sections))
           : high > most_high_orders
               ? refuse("", fmt::format("holds {} fractions of a high order", high),
                        "give them in sections")
               : Expected<void>();
}

void note_sign(FoundCoefficients& found) {
    const SignJudgement& sign = found.sign;
    const FeedbackSign taken = found.convention.feedback;
    const FeedbackSign other =
        taken == FeedbackSign::added ? FeedbackSign::subtracted : FeedbackSign::added;
    const auto radius = [](double r) { return fmt::format("{:.4g}", r); };
    if (sign.radius == 0 && sign.other_radius == 0) {
        return; // nothing is fed back
    }
    if (sign.is_suspect()) {
        found.notes.push_back(fmt::format(
            "Unstable, with a pole at radius {}, as the a’s are {}; {} instead, it is stable: the "
            "sign is probably that one.",
            radius(sign.radius), sign_words(taken), sign_words(other)));
    } else if (!sign.is_stable()) {
        found.notes.push_back(
            fmt::format("Unstable with either sign of the a’s: poles reach "
                        "radius {} subtracted as well as {} added.",
                        radius(taken == FeedbackSign::added ? sign.other_radius : sign.radius),
                        radius(taken == FeedbackSign::added ? sign.radius : sign.other_radius)));
    } else if (!sign.is_said) {
        found.notes.push_back(
            sign.other_radius < 1
                ? "No sign is said, and either makes a stable filter: the a’s are taken as "
                  "subtracted. Look at the response."
                : fmt::format("The a’s are taken as {}: {}, a pole would be at radius {}.",
                              sign_words(taken), sign_words(other), radius(sign.other_radius)));
    }
}

double radius_of_other_sign(Fractions fractions) {
    std::ranges::transform(fractions, fractions.begin(), with_other_sign);
    return pole_radius(fractions);
}

} // namespace

SignJudgement judged_sign(const Fractions& fractions, bool is_said) {
    return {pole_radius(fractions), radius_of_other_sign(fractions), is_said};
}

Expected<void> choose(const std::vector<WayToRead>& ways, std::optional<FeedbackSign> said,
                      FoundCoefficients& found) {
    struct Choice {
        Fractions fractions;
        FeedbackSign sign;
        std::size_t way;
        double radius; // of its farthest pole
    };
    std::optional<Choice> chosen;
    std::optional<Problem> problem;
    bool is_stable = false;
    for (std::size_t i = 0; i < ways.size() && !is_stable; ++i) {
        for (const FeedbackSign sign : {FeedbackSign::subtracted, FeedbackSign::added}) {
            if (is_stable || (said && sign != *said)) {
                continue;
            }
            auto fractions = ways[i].build(sign);
            if (auto ok = fractions ? check_orders(*fractions) : Expected<void>(); !ok) {
                return ok;
            }
            if (!fractions) {
                problem = problem ? problem : std::optional(fractions.error());
                continue;
            }
            const double radius = pole_radius(*fractions);
            is_stable = radius < 1;
            if (!chosen || is_stable) {
                chosen = Choice{std::move(*fractions), sign, i, radius};
            }
        }
    }
    if (!chosen) {
        return tl::unexpected(*problem);
    }
    found.convention.feedback = chosen->sign;
    found.convention.order = ways[chosen->way].order;
    found.fractions = std::move(chosen->fractions);
    found.sign = {chosen->radius, radius_of_other_sign(found.fractions), said.has_value()};
    if (ways.size() > 1) {
        found.notes.push_back(fmt::format(
            "{} numbers a section, taken as {}{}.", ways[0].order.size(),
            order_text(found.convention.order),
            chosen->way > 0 ? ", since as " + order_text(ways[0].order) + " it is unstable" : ""));
    }
    note_sign(found);
    return {};
}

} // namespace syntonon
