// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/log.h"

#include <array>
#include <cstdlib>
#include <spdlog/sinks/rotating_file_sink.h>
#include <spdlog/sinks/stdout_sinks.h>
#include <spdlog/spdlog.h>
#include <string>
#include <vector>

namespace syntonon {
namespace {

constexpr std::size_t most_bytes = 1'000'000;
constexpr std::size_t older_files = 2;

struct Level {
    LogLevel level;
    std::string_view key;
    spdlog::level::level_enum in_library;
};
constexpr auto levels = std::to_array<Level>({{LogLevel::debug, "debug", spdlog::level::debug},
                                              {LogLevel::info, "info", spdlog::level::info},
                                              {LogLevel::warning, "warning", spdlog::level::warn},
                                              {LogLevel::error, "error", spdlog::level::err},
                                              {LogLevel::off, "off", spdlog::level::off}});

const Level& entry_of(LogLevel level) {
    return levels.at(static_cast<std::size_t>(level));
}

void use(std::string_view program, std::vector<spdlog::sink_ptr> sinks, LogLevel level) {
    auto logger =
        std::make_shared<spdlog::logger>(std::string(program), sinks.begin(), sinks.end());
    logger->set_level(sinks.empty() ? spdlog::level::off : entry_of(level).in_library);
    logger->flush_on(spdlog::level::debug); // a crash must not take the last lines with it
    logger->set_pattern("%Y-%m-%d %H:%M:%S.%e %P %l: %v");
    // What the library has to say of itself (a full disk) belongs on no terminal.
    logger->set_error_handler([](const std::string&) {});
    spdlog::set_default_logger(std::move(logger));
}

// The library's own logger would write to the terminal until ours is there.
[[maybe_unused]] const bool quiet_until_started = [] {
    use("syntonon", {}, LogLevel::off);
    return true;
}();

} // namespace

std::string_view key_of(LogLevel level) {
    return entry_of(level).key;
}

std::optional<LogLevel> log_level_from_key(std::string_view key) {
    for (const Level& level : levels) {
        if (level.key == key) {
            return level.level;
        }
    }
    return std::nullopt;
}

std::filesystem::path state_folder() {
    // A relative path in the variable is to be ignored, says the specification.
    if (const char* state = std::getenv("XDG_STATE_HOME");
        state != nullptr && std::filesystem::path(state).is_absolute()) {
        return std::filesystem::path(state) / "syntonon";
    }
    const char* home = std::getenv("HOME");
    return home != nullptr && *home != '\0'
               ? std::filesystem::path(home) / ".local" / "state" / "syntonon"
               : std::filesystem::path();
}

Expected<std::filesystem::path> start_log(std::string_view program, const LogOptions& options) {
    std::vector<spdlog::sink_ptr> sinks;
    if (options.on_terminal) {
        sinks.push_back(std::make_shared<spdlog::sinks::stderr_sink_mt>());
    }
    use(program, sinks, options.level);
    const auto folder = state_folder();
    if (options.level == LogLevel::off) {
        return std::filesystem::path();
    }
    if (folder.empty()) {
        return refuse("", "the log has no folder", "set HOME or XDG_STATE_HOME");
    }
    const auto file = folder / (std::string(program) + ".log");
    try {
        std::filesystem::create_directories(folder);
        sinks.push_back(std::make_shared<spdlog::sinks::rotating_file_sink_mt>(
            file.string(), most_bytes, older_files));
    } catch (const std::exception& error) {
        return refuse(file.string(), fmt::format("the log cannot be written ({})", error.what()),
                      "free that path or set XDG_STATE_HOME to another folder");
    }
    use(program, std::move(sinks), options.level);
    return file;
}

bool logs(LogLevel level) {
    return spdlog::should_log(entry_of(level).in_library);
}

void log_line(LogLevel level, std::string_view text) {
    spdlog::log(entry_of(level).in_library, text);
}

} // namespace syntonon
