// The samples of the selected FIR: each change a named step of the history.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"
#include "core/design/fir/sampled.h"

#include <QString>
#include <functional>
#include <optional>
#include <vector>

namespace syntonon {

struct SamplesInHand {
    std::vector<FirSample> samples;
    bool are_own = true; // or the equal steps of its bands or of the goal
};

// Nothing where the selected stage is no sampled FIR, cannot be sampled, or has more taps than
// samples of their own can have.
std::optional<SamplesInHand> samples_in_hand(const Session& session);
// Equal steps become samples of their own with the first change.
void edit_samples(Session& session, const QString& name,
                  const std::function<void(std::vector<FirSample>&)>& change,
                  const QString& gesture = {});

// What the filter is there, which is what the program chose: a ratio; 0 while there is no filter.
double gain_found(const Session& session, const FirSample& sample);
// Leaves a sample to the program, or gives it the gain that it has come to.
void toggle_best(Session& session, std::size_t index);
void remove_sample(Session& session, std::size_t index);
// All of them, or one: to the nearest equal step that no other one has.
void put_on_grid(Session& session, std::optional<std::size_t> index = std::nullopt);

} // namespace syntonon
