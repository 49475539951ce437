// syntonon-batch: the core without a window.
// Exit 0 done, 1 a requirement is not met (judge), 2 the input or the call is wrong.
// SPDX-License-Identifier: GPL-3.0-or-later
#include "batch/commands.h"
#include "core/base/log.h"
#include "core/base/version.h"

#include <CLI/CLI.hpp>
#include <algorithm>
#include <array>
#include <cstdio>
#include <exception>
#include <fmt/format.h>
#include <functional>
#include <new>
#include <stdexcept>

namespace {

using namespace syntonon;
using namespace syntonon::batch;

constexpr int exit_not_met = 1;
constexpr int exit_wrong_input = 2;

struct Options {
    std::string study, channel, stage, layout = "table", folder, as;
    WordsCall words;
    TransferCall transfer;
    RecogniseCall found;
    std::string length, signal, instead;
    LoadsCall loads;
    RecipeCall recipe;
    SoundCoding signal_out;
    Frequencies frequencies;
    SoundFiles sound;
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

int fail(const std::string& line) {
    log_line(LogLevel::error, line);
    fmt::print(stderr, "{}\n", line);
    return exit_wrong_input;
}

class StandardOutput : public Output {
public:
    Expected<void> write(std::string_view text) override {
        const bool written = std::fwrite(text.data(), 1, text.size(), stdout) == text.size()
                             && std::fflush(stdout) == 0;
        if (!written) {
            return refuse("standard output", "cannot be written", "is the disk full?");
        }
        return {};
    }
};

// A path into the study means little without the study's name; a sound file has a name of its own.
int end(const Expected<bool>& done, const Options& o) {
    if (done) {
        return *done ? 0 : exit_not_met;
    }
    const std::string& place = done.error().place;
    const bool names_another = std::ranges::any_of(
        std::array{&o.sound.in, &o.sound.out.out, &o.signal_out.out, &o.found.file},
        [&](const std::string* file) {
            return !file->empty() && (place == *file || place.starts_with(*file + ":"));
        });
    const bool names_file = names_another || place.starts_with(o.study);
    return fail(to_text(names_file ? done.error() : in_file(o.study, done.error())));
}

using Command = std::function<Expected<bool>(Opened&, Output&)>;

// Adds a command; the one that the call names becomes `chosen`.
class Commands {
public:
    Commands(CLI::App& app, Options& options, Command& chosen)
        : app_(app), o(options), chosen_(chosen) {}

    void add_all() {
        add("check", "Read the study and say whether everything in it is in order",
            [](Opened& s, Output& out) { return check(s, out); });
        add("list", "What the study holds, by the ids that other commands ask for, as CSV",
            [](Opened& s, Output& out) { return list(s, out); });
        add_responses();
        add_coefficients();
        add_judge();
        add_words();
        add_transfer();
        add_recognise();
        auto* works = of_channel(
            add("working", "The numbers behind a stage, as JSON",
                [this](Opened& s, Output& out) { return working(s, out, o.channel, o.stage); }));
        works->add_option("--stage", o.stage, "The stage's id")->required();
        add_fit();
        add_process();
        add_play();
        add_signal();
        auto* delivers =
            add("deliver", "Write every delivery of the study and read it back",
                [this](Opened& s, Output& out) { return deliver(s, out, o.folder, o.replace); });
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

    void add_fit() {
        auto* fits =
            add("fit", "Fit every stage that is fitted anew, and write the study",
                [this](Opened& s, Output& out) { return fit(s, out, o.channel, o.folder); });
        fits->add_option("--channel", o.channel, "Only those of this channel, by its id");
        fits->add_option("--to", o.folder, "The study file to write; one that exists is replaced")
            ->required();
    }

    void add_process() {
        auto* processes = of_channel(
            add("process", "A sound file through the chain into another one",
                [this](Opened& s, Output& out) { return process(s, out, o.channel, o.sound); }));
        processes->add_option("IN", o.sound.in, "The sound file to read")->required();
        processes
            ->add_option("OUT", o.sound.out.out,
                         "The sound file to write: .wav, .flac, .aiff or .w64; one that exists is "
                         "replaced")
            ->required();
        add_coding(processes, o.sound.out);
        may_be_in_words(processes);
        processes->add_option("--tail", o.sound.tail_s,
                              "Seconds of silence sent behind the file, for what rings on");
        processes->add_flag("--convert", o.sound.convert,
                            "Convert a file of another sample rate to the study's");
    }

    void add_play() {
        auto* plays =
            of_channel(add("play", "The bench's signal through the chain, as the bench plays it",
                           [this](Opened& s, Output& out) {
                               return play(s, out, o.channel, o.instead, o.sound.out);
                           }));
        plays
            ->add_option("OUT", o.sound.out.out,
                         "The sound file to write: .wav, .flac, .aiff or .w64; one that exists is "
                         "replaced")
            ->required();
        plays->add_option("--instead", o.instead,
                          "Through another chain: state_variables (standing for ladders), or "
                          "channel:<id>");
        add_coding(plays, o.sound.out);
    }

    // Of a study, or without one.
    void add_signal() {
        CLI::App* sub = app_.add_subcommand("signal", "A test signal as a sound file");
        auto* study = sub->add_option("STUDY", o.study, "The study file that holds the signal");
        auto* id = sub->add_option("--signal", o.signal, "The signal's id in the study");
        auto* recipe = sub->add_option("--recipe", o.recipe.json,
                                       "Instead of both: the signal as JSON, as a study has it: "
                                       "{\"kind\": \"tone\", …}");
        auto* rate = sub->add_option("--sample-rate", o.recipe.sample_rate_hz, "Of a recipe, in Hz")
                         ->capture_default_str();
        auto* length = sub->add_option("--length", o.recipe.length_s, "Of a recipe, in seconds")
                           ->capture_default_str();
        for (CLI::Option* of_recipe : {recipe, rate, length}) {
            of_recipe->excludes(study)->excludes(id);
        }
        sub->add_option("--to", o.signal_out.out,
                        "The sound file to write: .wav, .flac, .aiff or .w64")
            ->required();
        add_coding(sub, o.signal_out);
        sub->callback([this, id, study, recipe] {
            if (recipe->empty() && (study->empty() || id->empty())) {
                throw CLI::RequiredError("STUDY and --signal, or --recipe");
            }
            chosen_ = [this](Opened& opened, Output& out) {
                return o.recipe.json.empty() ? signal(opened, out, o.signal, o.signal_out)
                                             : signal_by_recipe(out, o.recipe, o.signal_out);
            };
        });
    }
    static void add_coding(CLI::App* sub, SoundCoding& coding) {
        sub->add_option("--words", coding.words,
                        "16, 24 or float; float when not given, in FLAC 24");
        sub->add_flag("--dither", coding.dither, "Dither when rounding to 16 or 24 bits");
    }

    void add_responses() {
        auto* responds = of_channel(
            add("respond", "Magnitude, phase and group delay of a chain or one stage, as CSV",
                [this](Opened& s, Output& out) {
                    return respond(s, out, o.channel, o.stage, o.frequencies);
                }));
        responds->add_option("--stage", o.stage, "Only the stage of this id");
        responds->add_option("--at", o.frequencies.at, "Frequencies in Hz: HZ,HZ,…");
        responds->add_option("--log", o.frequencies.logarithmic,
                             "LO:HI:COUNT frequencies in equal ratios");
        responds->add_option("--linear", o.frequencies.linear,
                             "LO:HI:COUNT frequencies in equal steps");
        auto* impulses = of_channel(
            add("impulse", "The chain's impulse response, as CSV",
                [this](Opened& s, Output& out) { return impulse(s, out, o.channel, o.length); }));
        impulses->add_option("--length", o.length, "Samples")->required();
        auto* of_roots =
            of_channel(add("roots", "The chain's zeros and poles, as CSV",
                           [this](Opened& s, Output& out) { return roots(s, out, o.channel); }));
        for (CLI::App* sub : {responds, impulses, of_roots}) {
            may_be_in_words(sub);
        }
    }

    void add_coefficients() {
        auto* coefficient = of_channel(add(
            "coefficients", "The chain's coefficients in a layout",
            [this](Opened& s, Output& out) { return coefficients(s, out, o.channel, o.layout); }));
        coefficient->add_option("--layout", o.layout,
                                "table, json, c-double, c-float or one of the study's deliveries");
    }

    // What looks at chains may look at them in a processor's words.
    void may_be_in_words(CLI::App* sub) {
        sub->add_option("--as", o.as, "In the words of this delivery's processor, by its id");
    }

    void add_words() {
        auto* of_words = add("words", "What a delivery's processor makes of its channels, as CSV",
                             [this](Opened& s, Output& out) { return words(s, out, o.words); });
        of_words->add_option("--delivery", o.words.delivery, "The delivery's id")->required();
        of_words->add_option("--channel", o.words.channel, "Only the channel of this id");
        auto* searches = of_words->add_flag("--search", o.words.search, "Search its words");
        auto* to = of_words->add_option("--to", o.words.to,
                                        "The study file to write; one that exists is replaced");
        searches->needs(to);
        to->needs(searches);
        auto* costs =
            add("budget", "What a delivery costs on its processor; exit 1 beyond it",
                [this](Opened& s, Output& out) { return budget(s, out, o.words.delivery); });
        costs->add_option("--delivery", o.words.delivery, "The delivery's id")->required();
        CLI::App* measured = app_.add_subcommand(
            "loads", "What FIRs take on this machine, by both ways of convolving, as CSV");
        measured->add_option("--block", o.loads.block_frames, "Frames of a block")
            ->capture_default_str();
        measured->add_option("--sample-rate", o.loads.sample_rate_hz, "In Hz")
            ->capture_default_str();
        measured->add_option("--taps", o.loads.taps, "Lengths: N,N,…; 128 to 65536 when not given");
        measured->callback(
            [this] { chosen_ = [this](Opened&, Output& out) { return loads(out, o.loads); }; });
        CLI::App* shipped =
            app_.add_subcommand("processors", "The profiles that come with the program");
        shipped->add_option("--to", o.folder, "Write them into this folder, as files to change");
        shipped->callback([this] {
            chosen_ = [this](Opened&, Output& out) { return processors(out, o.folder); };
        });
    }

    void add_transfer() {
        auto* sends = add("transfer",
                          "Send a delivery to its device and read it back; exit 1 where that "
                          "failed and the device is as it was",
                          [this](Opened& s, Output& out) { return transfer(s, out, o.transfer); });
        sends->add_option("--delivery", o.transfer.delivery, "The delivery's id")->required();
        sends->add_option("--device", o.transfer.device, "Another device than its own: host:port");
        sends->add_flag("--dry-run", o.transfer.dry_run, "Only say what would be set");
    }

    // Of a file alone, or into a study.
    void add_recognise() {
        CLI::App* sub = app_.add_subcommand(
            "recognise", "What a file of coefficients that others wrote holds, as JSON");
        sub->add_option("FILE", o.found.file, "The file to read")->required();
        sub->add_option("--as", o.found.as, "Take it as sections, fraction or taps");
        sub->add_option("--order", o.found.order, "Of a row: \"b0 b1 b2 a1 a2\"");
        sub->add_option("--feedback", o.found.feedback, "subtracted or added");
        sub->add_option("--word", o.found.word, "Of words: Q2.14, float32 …");
        sub->add_option("--processor", o.found.processor,
                        "Whose words, order and sign they have: an id or a file");
        auto* into = sub->add_option("--into", o.study, "The study that the stages go into");
        auto* channel = sub->add_option("--channel", o.found.channel, "The channel's id");
        auto* to = sub->add_option("--to", o.found.to,
                                   "The study file to write; one that exists is replaced");
        for (CLI::Option* option : {into, channel, to}) {
            for (CLI::Option* other : {into, channel, to}) {
                if (option != other) {
                    option->needs(other);
                }
            }
        }
        sub->callback([this] {
            chosen_ = [this](Opened& opened, Output& out) {
                return recognise(opened, out, o.found);
            };
        });
    }

    void add_judge() {
        auto* judges =
            add("judge", "Check every requirement; exit 1 when one is not met or cannot be decided",
                [this](Opened& s, Output& out) {
                    return judge(s, out, o.channel,
                                 o.json    ? JudgeFormat::json
                                 : o.junit ? JudgeFormat::junit
                                           : JudgeFormat::lines);
                });
        judges->add_option("--channel", o.channel, "Only the channel of this id");
        may_be_in_words(judges);
        auto* as_json = judges->add_flag("--json", o.json, "JSON instead of lines");
        judges->add_flag("--junit", o.junit, "JUnit-style XML instead of lines")->excludes(as_json);
    }

    CLI::App& app_;
    Options& o;
    Command& chosen_;
};

// The library's own words span lines and say no way out.
Problem call_problem(const CLI::App& app, const CLI::ParseError& error, int argc, char** argv) {
    const auto given = app.get_subcommands();
    std::string commands;
    for (const CLI::App* command : app.get_subcommands([](const CLI::App*) { return true; })) {
        commands += (commands.empty() ? "" : ", ") + command->get_name();
    }
    if (given.empty() && error.get_name() == "RequiredError") {
        const auto word = std::find_if(argv + 1, argv + argc, [](const char* argument) {
            return *argument != '\0' && *argument != '-';
        });
        return {"call",
                word == argv + argc ? "no command is given"
                                    : fmt::format("there is no command “{}”", *word),
                "use one of: " + commands};
    }
    const std::string command = given.empty() ? "" : given.front()->get_name();
    return {command.empty() ? "call" : command, error.what(),
            given.empty() ? "use one of: " + commands
                          : fmt::format("see syntonon-batch {} --help", command)};
}

int run_program(int argc, char** argv) {
    CLI::App app("Syntonon without a window: look at, judge and deliver a study from a shell.",
                 "syntonon-batch");
    app.set_version_flag("--version", version_text("syntonon-batch"));
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
        const bool is_answer = error.get_exit_code() == 0; // --help, --version
        return is_answer ? app.exit(error) : fail(to_text(call_problem(app, error, argc, argv)));
    }
    o.log_asked_for = app.count("--log-level") + app.count("--log-to-terminal") > 0;
    start_logging(o);
    log(LogLevel::info, "{} {}", app.get_subcommands().front()->get_name(), o.study);
    StandardOutput out;
    if (o.study.empty()) {
        Opened none;
        const auto made = run(none, out);
        return made ? 0 : fail(to_text(made.error()));
    }
    auto study = open_study(o.study);
    if (!study) {
        return fail(to_text(study.error()));
    }
    study->as = o.as;
    return end(run(*study, out), o);
}

} // namespace

int main(int argc, char** argv) {
    try {
        return run_program(argc, argv);
    } catch (const std::bad_alloc&) {
        std::fputs("memory: has run out; ask for less at once, or free some\n", stderr);
    } catch (const std::length_error&) {
        std::fputs("memory: no machine has that much; ask for less at once\n", stderr);
    } catch (const std::exception& error) {
        std::fprintf(stderr, "%s\n", error.what());
    }
    return exit_wrong_input;
}
