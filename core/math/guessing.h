// How likely a score is for somebody who only guesses.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

namespace syntonon {

// The probability of at least so many right answers out of so many when each is right with
// probability 1/2: the binomial tail. 1 for 0 right.
double probability_by_guessing(int right, int of);

} // namespace syntonon
