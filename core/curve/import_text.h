// Frequency responses from text files.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/base/problem.h"
#include "core/curve/curve.h"

#include <cstddef>
#include <filesystem>
#include <string>
#include <string_view>
#include <vector>

namespace syntonon {

enum class FrequencyUnit { automatic, hz, khz };

struct ImportOptions {
    FrequencyUnit frequency_unit = FrequencyUnit::automatic;
};

struct ImportedCurve {
    Curve curve;                    // id is left empty; name is for the caller to give
    std::vector<std::string> notes; // what was taken otherwise than written, each a sentence
    bool decimal_comma = false;
    bool kilohertz = false;
    std::size_t rows = 0; // data rows read
};

// Two or three columns: frequency, level in dB, phase in degrees. Columns part at commas,
// semicolons, tabs or blanks; with a decimal comma columns part at anything but commas. Blank lines
// and lines that start with # % * ! " or // are comments, as are lines that start with ; and all
// lines before the first one that starts with a number (headers). Automatic units: kHz when a
// header or comment says kHz, else Hz.
//
// Handled, with a note: unsorted rows, repeated frequencies (averaged), a row at 0 Hz (left out),
// a byte order mark. Refused, naming the line: NaN and infinity, negative frequencies, text among
// the numbers, a row with fewer or more columns than the first, binary files, files without rows.
Expected<ImportedCurve> import_text(std::string_view text, const ImportOptions& options = {});

// The same from a file of at most 256 MB; the problem's place starts with the path.
Expected<ImportedCurve> import_text_file(const std::filesystem::path& path,
                                         const ImportOptions& options = {});

} // namespace syntonon
