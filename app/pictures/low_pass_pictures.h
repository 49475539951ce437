// The pictures of docs/aurora-low-pass.md.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

namespace syntonon {

class MainWindow;
class Photographer;

// With demo/aurora-low-pass.syntonon open: the equiripple filter, its weights drawn, found, and all
// methods for the goal.
void take_low_pass_pictures(MainWindow& window, Photographer& photographer);

} // namespace syntonon
