// The log of what the program did: a file in the user's state folder, for looking at afterwards.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"

#include <filesystem>
#include <fmt/core.h>
#include <optional>
#include <string_view>
#include <utility>

namespace syntonon {

enum class LogLevel { debug, info, warning, error, off };

// "debug", "info", "warning", "error", "off".
std::string_view key_of(LogLevel level);
std::optional<LogLevel> log_level_from_key(std::string_view key);

struct LogOptions {
    LogLevel level = LogLevel::info; // the least that is written down
    bool on_terminal = false;        // on standard error as well
};

// $XDG_STATE_HOME/syntonon, or ~/.local/state/syntonon (XDG Base Directory Specification 0.8).
// Empty when neither is known.
std::filesystem::path state_folder();

// From here on lines go to `program`.log in the state folder. At one megabyte the file becomes
// `program`.1.log and a new one is begun; three are kept. A file that cannot be written is a
// problem to mention, never a reason to stop: the program then runs without one.
Expected<std::filesystem::path> start_log(std::string_view program, const LogOptions& options);

// One line, from any thread. Before start_log lines go nowhere.
void log_line(LogLevel level, std::string_view text);
bool logs(LogLevel level);

template <class... Parts>
void log(LogLevel level, fmt::format_string<Parts...> text, Parts&&... parts) {
    if (logs(level)) {
        log_line(level, fmt::format(text, std::forward<Parts>(parts)...));
    }
}

} // namespace syntonon
