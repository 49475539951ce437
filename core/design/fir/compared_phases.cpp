// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/design/fir/compared_phases.h"

#include <algorithm>
#include <cmath>

namespace syntonon {

PhaseFacts phase_facts(std::span<const double> taps) {
    PhaseFacts facts;
    double energy = 0, moment = 0;
    for (std::size_t n = 0; n < taps.size(); ++n) {
        energy += taps[n] * taps[n];
        moment += static_cast<double>(n) * taps[n] * taps[n];
    }
    const auto greatest =
        std::ranges::max_element(taps, {}, [](double tap) { return std::abs(tap); });
    facts.greatest_at = static_cast<double>(greatest - taps.begin());
    facts.mean_delay = energy > 0 ? moment / energy : 0;
    facts.before = pre_ringing(taps);
    facts.taps.assign(taps.begin(), taps.end());
    return facts;
}

Expected<std::vector<PhaseFacts>>
compared_phases(std::span<const double> taps, std::span<const double> shares, const Watch& watch) {
    std::vector<PhaseFacts> all;
    for (const double share : shares) {
        const auto form = with_phase(taps, share, watch);
        if (!form) {
            return tl::unexpected(form.error());
        }
        PhaseFacts facts = phase_facts(form->taps);
        facts.share = share;
        facts.error_db = form->error_db;
        all.push_back(std::move(facts));
    }
    return all;
}

} // namespace syntonon
