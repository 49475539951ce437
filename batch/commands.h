// The batch program's commands. Each returns what goes to standard output, or a problem.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "batch/judge_output.h"
#include "core/base/problem.h"
#include "core/study/analysis.h"
#include "core/study/study.h"

#include <cstddef>
#include <filesystem>
#include <optional>
#include <string>
#include <string_view>
#include <vector>

namespace syntonon::batch {

// Where a command's output goes, piece by piece, so that long output takes no memory.
class Output {
public:
    virtual ~Output() = default;
    // Refused where it cannot be written.
    virtual Expected<void> write(std::string_view text) = 0;
};

// Numbers as the call gives them, to be read where they are used.
struct Frequencies {                 // exactly one of the three
    std::optional<std::string> at;   // "HZ,HZ,…"
    std::string logarithmic, linear; // "LO:HI:COUNT"
};

// A study, and what has been made of it so far.
struct Opened {
    std::string path;
    Study study;
    std::string as = {}; // the delivery in whose processor's words chains are; empty: as designed
    AnalysisCache cache = AnalysisCache();
};
// Loads a study; warnings go to standard error.
Expected<Opened> open_study(const std::filesystem::path& path);

// Each makes the designs that it needs, with progress on standard error where that is a terminal.
// True when done; judge: whether everything required is met.
Expected<bool> check(Opened& opened, Output& out);
// Every part that has an id.
Expected<bool> list(Opened& opened, Output& out);
Expected<bool> respond(Opened& opened, Output& out, const std::string& channel,
                       const std::string& stage, const Frequencies& frequencies);
Expected<bool> impulse(Opened& opened, Output& out, const std::string& channel,
                       const std::string& length);
// How a sound file is written.
struct SoundCoding {
    std::string out;   // the file
    std::string words; // "16", "24", "float"; empty: float, in FLAC 24
    bool dither = false;
};
// A sound file through the chain into another one; every channel of the file by itself.
struct SoundFiles {
    std::string in;
    SoundCoding out;
    std::string tail_s;   // so much silence is sent behind it; empty: none
    bool convert = false; // to the study's sample rate, where it has another one
};
Expected<bool> process(Opened& opened, Output& out, const std::string& channel,
                       const SoundFiles& files);
// The bench's signal through the chain as the bench plays it, into a sound file. `instead`: as a
// bench names what it compares with; empty: the channel's own chain.
Expected<bool> play(Opened& opened, Output& out, const std::string& channel,
                    const std::string& instead, const SoundCoding& file);
// A signal of the study, or one by a recipe alone, into a sound file.
Expected<bool> signal(Opened& opened, Output& out, const std::string& id, const SoundCoding& file);
struct RecipeCall {
    std::string json, sample_rate_hz = "48000", length_s = "4";
};
Expected<bool> signal_by_recipe(Output& out, const RecipeCall& call, const SoundCoding& file);
Expected<bool> roots(Opened& opened, Output& out, const std::string& channel);
Expected<bool> coefficients(Opened& opened, Output& out, const std::string& channel,
                            const std::string& layout);
Expected<bool> judge(Opened& opened, Output& out, const std::string& channel, JudgeFormat format);
// The numbers behind a stage, as JSON.
Expected<bool> working(Opened& opened, Output& out, const std::string& channel,
                       const std::string& stage);
// Fits every stage that is fitted anew, of one channel or of all (empty), and writes the study with
// what was found. A line a stage: what is left of its errors.
Expected<bool> fit(Opened& opened, Output& out, const std::string& channel,
                   const std::filesystem::path& to);
// What a delivery's processor makes of its channels, or of one: deviation, noise, headroom, limit
// cycles, as CSV. With `search` its words are searched and the study is written.
struct WordsCall {
    std::string delivery, channel;
    bool search = false;
    std::string to;
};
Expected<bool> words(Opened& opened, Output& out, const WordsCall& call);
// What they cost on it; true when it fits.
Expected<bool> budget(Opened& opened, Output& out, const std::string& delivery);
// The delivery's channels into its device, or another one; false when that failed, and the device
// is as it was. A dry run gives a line for each object that would change. The study's mapping as
// far as it holds, and a proposal for the rest.
struct TransferCall {
    std::string delivery, device; // id; "host:port", empty: the delivery's
    bool dry_run = false;
};
Expected<bool> transfer(Opened& opened, Output& out, const TransferCall& call);
// What FIRs of 128 to 65536 taps take on this machine, by both ways of convolving, as CSV.
struct LoadsCall {
    std::string block_frames = "64", sample_rate_hz = "48000";
    std::string taps; // "256,1500"; empty: 128, 256 ... 65536
};
Expected<bool> loads(Output& out, const LoadsCall& call);
// What a file of coefficients that others wrote holds, as JSON, with stages of it; with `to`, the
// study with them behind the channel's last one. Empty: as it is recognised.
struct RecogniseCall {
    std::string file, as, order, feedback, word, processor;
    std::string channel, to;
};
Expected<bool> recognise(Opened& opened, Output& out, const RecogniseCall& call);
// Those that come with the program; written into the folder, where one is named.
Expected<bool> processors(Output& out, const std::filesystem::path& folder);
Expected<bool> deliver(Opened& opened, Output& out, const std::filesystem::path& folder,
                       bool replace);

} // namespace syntonon::batch
