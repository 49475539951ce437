// The steps of a classical design, as a textbook does them.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/design/classical_plan.h"
#include "core/design/working.h"

namespace syntonon {

struct ClassicalSteps {
    ClassicalSpec spec;
    Axis axis;
    ClassicalPlan plan;
    Prototype prototype;
    SectionsMade made;
};

// Tolerances, edges, order, prototype, band, sections, and the product as one polynomial.
Working classical_working(const ClassicalSteps& steps);

} // namespace syntonon
