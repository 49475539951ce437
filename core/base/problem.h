// Errors as values: what went wrong, where, and the way out.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <string>
#include <string_view>
#include <tl/expected.hpp>

namespace syntonon {

// A refusal that a person can act on. `place` is a path into a study
// ("channels[0].stages[2].frequency_hz"), a line of a file ("line 12") or a file's name; it may be
// empty while the caller that knows the place has not added it yet.
struct Problem {
    std::string place;
    std::string reason;
    std::string way_out;

    bool operator==(const Problem&) const = default;
};

template <class T>
using Expected = tl::expected<T, Problem>;

// "place: reason; way out", leaving out what is empty. One line, whatever the parts hold: see
// one_line().
std::string to_text(const Problem& problem);

// Text that may hold anything a file or a call held, fit for one line of a terminal or a log:
// control characters are written as escapes ("\n", "\x1b"), what stands in “quotes” and keys of
// paths are cut to 120 characters, and all of it to 2000.
std::string one_line(std::string_view text);

// The same problem seen from outside: `outer` is put in front of its place ("a" + "b" -> "a.b",
// "a" + "[0]" -> "a[0]").
Problem within(std::string_view outer, Problem inner);

// The same for a file's name, which is set off by a colon: "dome.syntonon: channels[0]".
Problem in_file(std::string_view file, Problem inner);

tl::unexpected<Problem> refuse(std::string place, std::string reason, std::string way_out = {});

} // namespace syntonon
