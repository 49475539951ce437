// What stands out of a spectrum, made part of the goal or of the chain: each one step.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"
#include "core/signal/hump.h"

#include <QString>
#include <array>

namespace syntonon {

enum class HumpOffer {
    stopband, // an attenuation requirement
    ceiling,  // a corridor range
    notch,    // a stage, and the following ones
    band_stop,
    fir_band_stop
};
inline constexpr std::array all_hump_offers = {HumpOffer::stopband, HumpOffer::ceiling,
                                               HumpOffer::notch, HumpOffer::band_stop,
                                               HumpOffer::fir_band_stop};

QString words_for(HumpOffer offer, const Hump& hump);
// A hump that begins below what is heard is cut off from below.
bool reaches_the_low_end(const Hump& hump);
bool can_take(const Session& session, HumpOffer offer, const Hump& hump);

// As deep as it stands out, rounded up to whole decibels. In the goal, passbands that go through it
// are parted around it, so that the two do not contradict one another.
void take_offer(Session& session, HumpOffer offer, const Hump& hump);

// "4.05–4.78 kHz stands 31 dB out", "237 Hz stands 24 dB out".
QString text_of(const Hump& hump);

} // namespace syntonon
