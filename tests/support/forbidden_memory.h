// For what must not ask for memory. Of the core's tests only, whose operator new it replaces.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

namespace syntonon::test {

// While it is set, memory that this thread asks for ends the program.
extern thread_local bool memory_is_forbidden;

} // namespace syntonon::test
