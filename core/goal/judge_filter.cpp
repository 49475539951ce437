// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/goal/judging.h"

#include <fmt/format.h>

namespace syntonon {

Finding judge(const StabilityRequirement& r, const Case& c) {
    const auto margin = c.prediction.chain().stability_margin(c.rate());
    return margin ? judged(c.title, "", *margin, r.min_margin, *margin - r.min_margin)
                  : undecided(c.title, to_text(margin.error()));
}

Finding judge(const SectionsRequirement& r, const Case& c) {
    const int sections = c.prediction.chain().cost().sections;
    return judged(c.title, "", sections, r.max_sections, r.max_sections - sections);
}

Finding judge(const TapsRequirement& r, const Case& c) {
    if (c.prediction.axis().is_analog()) {
        return undecided(c.title, "an analog channel has no taps; remove the requirement");
    }
    const int taps = c.prediction.chain().cost().taps;
    return judged(c.title, "", taps, r.max_taps, r.max_taps - taps);
}

Finding judge(const BudgetRequirement& r, const Case& c) {
    const Company* company = c.prediction.company();
    if (company == nullptr || company->budgets.empty()) {
        return undecided(c.title, "no delivery of this channel names a processor; give one, or "
                                  "remove the requirement");
    }
    const BudgetUse* tightest = nullptr;
    for (const BudgetUse& use : company->budgets) {
        if (!use.share) {
            return undecided(
                c.title, fmt::format("delivery {}: {}", use.delivery, to_text(use.share.error())));
        }
        tightest = tightest == nullptr || *use.share > *tightest->share ? &use : tightest;
    }
    const double percent = 100 * *tightest->share;
    Finding finding =
        judged(fmt::format("{}: {} of {}", c.title, tightest->what, tightest->processor), "%",
               percent, r.max_percent, r.max_percent - percent);
    return finding;
}

Finding judge(const UnknownRequirement& r, const Case& c) {
    return undecided(c.title, fmt::format("this version does not know the requirement “{}”; use a "
                                          "newer one",
                                          r.its_kind));
}

} // namespace syntonon
