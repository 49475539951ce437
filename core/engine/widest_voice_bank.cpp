// The same with AVX-512.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/engine/wide_voice_bank.cpp"
