// A profile's properties as text, to be read and typed.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/word/processor.h"

#include <QString>
#include <functional>
#include <vector>

namespace syntonon {

struct ProcessorField {
    QString caption, tip;
    std::function<QString(const Processor&)> text;
    // Refused with what is wrong; what the whole profile then says is not checked here.
    std::function<Expected<void>(Processor&, const QString&)> take;
    bool is_title = false; // of the fields below it
};

// Those of this profile, in their order; the cycles of each structure that it has are among them.
std::vector<ProcessorField> processor_fields(const Processor& processor);

} // namespace syntonon
