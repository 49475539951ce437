// An instrument as source text, and as a plug-in.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/exchange/instrument.h"
#include "core/exchange/source_writers.h"

#include <span>
#include <string>
#include <string_view>
#include <vector>

namespace syntonon {

// A C++20 header without dependencies and without allocation: the kernels, and a class of the parts
// with prepare, set, process and reset, for any number of voices.
std::string instrument_header(const Instrument& instrument);

// In a folder of its own, which “make” builds: the header, a test that holds what the bench makes
// of a signal, and a program that filters a sound file, or plays between JACK's ports.
std::span<const std::string_view> instrument_endings();
std::vector<DeliveredText> instrument_texts(const Instrument& instrument);

// An LV2 bundle (http://lv2plug.in), which “make” builds in its place: a port for each parameter.
std::span<const std::string_view> lv2_endings();
std::vector<DeliveredText> lv2_texts(const Instrument& instrument);

} // namespace syntonon
