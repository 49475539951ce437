// syntonon-batch: the core without a window.
// Exit 0 done, 1 a requirement is not met (judge), 2 the input or the call is wrong.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "batch/commands.h"
#include "core/base/log.h"

#include <CLI/CLI.hpp>
#include <cstdio>
#include <exception>
#include <fmt/format.h>
#include <functional>

namespace {

using namespace syntonon;
using namespace syntonon::batch;

constexpr int exit_not_met = 1;
constexpr int exit_wrong_input = 2;

struct Options {
    std::string study, channel, stage, layout = "table", folder;
    Frequencies frequencies;
    std::size_t length = 0;
    bool json = false, junit = false, replace = false;
    std::string log_level = std::string(key_of(LogLevel::info));
    bool log_to_terminal = false, log_asked_for = false;
};

void start_logging(const Options& o) {
    const LogOptions options{log_level_from_key(o.log_level).value_or(LogLevel::info),
                             o.log_to_terminal};
    if (const auto file = start_log("syntonon-batch", options); !file && o.log_asked_for) {
        fmt::print(stderr, "{}\n", to_text(file.error()));
    }
}

int print(const Expected<Report>& report, const std::string& file) {
    if (!report) {
        log_line(LogLevel::error, to_text(report.error()));
        // A path into the study means little without the study's name.
        const std::string line = to_text(report.error());
        fmt::print(stderr, "{}\n", line.starts_with(file) ? line : file + ": " + line);
        return exit_wrong_input;
    }
    const bool written =
        std::fwrite(report->text.data(), 1, report->text.size(), stdout) == report->text.size()
        && std::fflush(stdout) == 0;
    if (!written) {
        fmt::print(stderr, "standard output: cannot be written; is the disk full?\n");
        return exit_wrong_input;
    }
    return report->requirements_met ? 0 : exit_not_met;
}

using Command = std::function<Expected<Report>(Opened&)>;

// Adds a command; the one that the call names becomes `chosen`.
class Commands {
public:
    Commands(CLI::App& app, Options& options, Command& chosen)
        : app_(app), o(options), chosen_(chosen) {}

    void add_all() {
        add("check", "Read the study and say whether everything in it is in order",
            [](Opened& s) { return check(s); });
        add_responses();
        add_coefficients();
        add_judge();
        auto* works = of_channel(add("working", "The numbers behind a stage, as JSON",
                                     [this](Opened& s) { return working(s, o.channel, o.stage); }));
        works->add_option("--stage", o.stage, "The stage's id")->required();
        auto* delivers = add("deliver", "Write every delivery of the study and read it back",
                             [this](Opened& s) { return deliver(s, o.folder, o.replace); });
        delivers->add_option("--to", o.folder, "The folder to write to; made when missing")
            ->required();
        delivers->add_flag("--replace", o.replace, "Replace files that exist");
    }

private:
    CLI::App* add(const char* name, const char* about, Command action) {
        CLI::App* sub = app_.add_subcommand(name, about);
        sub->add_option("STUDY", o.study, "The study file (.syntonon)")->required();
        sub->callback([this, action = std::move(action)] { chosen_ = action; });
        return sub;
    }
    CLI::App* of_channel(CLI::App* sub) {
        sub->add_option("--channel", o.channel, "The channel's id")->required();
        return sub;
    }

    void add_responses() {
        auto* responds = of_channel(
            add("respond", "Magnitude, phase and group delay of a chain or one stage, as CSV",
                [this](Opened& s) { return respond(s, o.channel, o.stage, o.frequencies); }));
        responds->add_option("--stage", o.stage, "Only the stage of this id");
        responds->add_option("--at", o.frequencies.at_hz, "Frequencies in Hz: HZ,HZ,…")
            ->delimiter(',');
        responds->add_option("--log", o.frequencies.logarithmic,
                             "LO:HI:COUNT frequencies in equal ratios");
        responds->add_option("--linear", o.frequencies.linear,
                             "LO:HI:COUNT frequencies in equal steps");
        auto* impulses =
            of_channel(add("impulse", "The chain's impulse response, as CSV",
                           [this](Opened& s) { return impulse(s, o.channel, o.length); }));
        impulses->add_option("--length", o.length, "Samples")->required();
        of_channel(add("roots", "The chain's zeros and poles, as CSV",
                       [this](Opened& s) { return roots(s, o.channel); }));
    }

    void add_coefficients() {
        auto* coefficient =
            of_channel(add("coefficients", "The chain's coefficients in a layout",
                           [this](Opened& s) { return coefficients(s, o.channel, o.layout); }));
        coefficient->add_option("--layout", o.layout,
                                "table, json, c-double, c-float or one of the study's deliveries");
    }

    void add_judge() {
        auto* judges =
            add("judge", "Check every requirement; exit 1 when one is not met or cannot be decided",
                [this](Opened& s) {
                    return judge(s, o.channel,
                                 o.json    ? JudgeFormat::json
                                 : o.junit ? JudgeFormat::junit
                                           : JudgeFormat::lines);
                });
        judges->add_option("--channel", o.channel, "Only the channel of this id");
        auto* as_json = judges->add_flag("--json", o.json, "JSON instead of lines");
        judges->add_flag("--junit", o.junit, "JUnit-style XML instead of lines")->excludes(as_json);
    }

    CLI::App& app_;
    Options& o;
    Command& chosen_;
};

int run_program(int argc, char** argv) {
    CLI::App app("Syntonon without a window: look at, judge and deliver a study from a shell.",
                 "syntonon-batch");
    app.set_version_flag("--version", SYNTONON_VERSION);
    app.require_subcommand(1);

    Options o;
    app.add_option("--log-level", o.log_level, "The least that goes into the log")
        ->check(CLI::IsMember({"debug", "info", "warning", "error", "off"}))
        ->capture_default_str();
    app.add_flag("--log-to-terminal", o.log_to_terminal, "Write the log to standard error, too");
    Command run;
    Commands commands(app, o, run);
    commands.add_all();
    try {
        app.parse(argc, argv);
    } catch (const CLI::ParseError& error) {
        return app.exit(error) == 0 ? 0 : exit_wrong_input;
    }
    o.log_asked_for = app.count("--log-level") + app.count("--log-to-terminal") > 0;
    start_logging(o);
    log(LogLevel::info, "{} {}", app.get_subcommands().front()->get_name(), o.study);
    auto study = open_study(o.study);
    if (!study) {
        log_line(LogLevel::error, to_text(study.error()));
        fmt::print(stderr, "{}\n", to_text(study.error()));
        return exit_wrong_input;
    }
    return print(run(*study), o.study);
}

} // namespace

int main(int argc, char** argv) {
    try {
        return run_program(argc, argv);
    } catch (const std::exception& error) { // memory has run out
        std::fprintf(stderr, "%s\n", error.what());
        return exit_wrong_input;
    }
}
