// How each kind of signal is made. make_signal() has checked the fields before.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/signal/make_signal.h"

namespace syntonon {

// sin and cos of 2 pi f n / rate are worked out for each n: nothing drifts however long it runs.
std::vector<double> made(const ImpulseRecipe& recipe, const SignalExtent& extent);
std::vector<double> made(const StepRecipe& recipe, const SignalExtent& extent);
std::vector<double> made(const PulseTrainRecipe& recipe, const SignalExtent& extent);
std::vector<double> made(const OffsetRecipe& recipe, const SignalExtent& extent);
std::vector<double> made(const NumbersRecipe& recipe, const SignalExtent& extent);
std::vector<double> made(const SpikesOnRampRecipe& recipe, const SignalExtent& extent);

std::vector<double> made(const ToneRecipe& recipe, const SignalExtent& extent);
std::vector<double> made(const SteppedToneRecipe& recipe, const SignalExtent& extent);
std::vector<double> made(const SweptToneRecipe& recipe, const SignalExtent& extent);
std::vector<double> made(const MultiToneRecipe& recipe, const SignalExtent& extent);
std::vector<double> made(const SawChordRecipe& recipe, const SignalExtent& extent);
std::vector<double> made(const NotesRecipe& recipe, const SignalExtent& extent);
std::vector<double> made(const ToneBurstRecipe& recipe, const SignalExtent& extent);

// Made in frequency, with the very power that is asked for.
std::vector<double> made(const WhiteNoiseRecipe& recipe, const SignalExtent& extent);
std::vector<double> made(const PinkNoiseRecipe& recipe, const SignalExtent& extent);
std::vector<double> made(const BandNoiseRecipe& recipe, const SignalExtent& extent);

std::vector<double> made(const PercussionRecipe& recipe, const SignalExtent& extent);
std::vector<double> made(const ClapperRecipe& recipe, const SignalExtent& extent);
std::vector<double> made(const NarrationRecipe& recipe, const SignalExtent& extent);

} // namespace syntonon
