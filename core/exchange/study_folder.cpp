// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/study_folder.h"

#include "core/exchange/file_digest.h"
#include "core/exchange/response_files.h"
#include "core/exchange/sound_channels.h"
#include "core/study/origins.h"

#include <fmt/format.h>
#include <utility>

namespace syntonon {
namespace {

constexpr auto most_frames = static_cast<std::int64_t>(most_impulse_samples);

// What should be known of the file; empty: nothing. Takes its samples.
std::string take_file(const std::filesystem::path& folder, Measurement& measured) {
    const std::filesystem::path path = folder / measured.file.path;
    const auto digest = digest_of_file(path);
    auto sound = sound_channels(path, most_frames);
    const auto channel = static_cast<std::size_t>(measured.file.channel - 1);
    if (!sound) {
        return fmt::format("{}; the curve stays as it was when it was saved: put the file back and "
                           "open the study again, or import it anew",
                           to_text(sound.error()));
    }
    if (channel >= sound->channels.size()) {
        return fmt::format("{} has {} channels, and number {} is used: put back the file that was "
                           "there",
                           path.string(), sound->channels.size(), measured.file.channel);
    }
    std::string said;
    if (!measured.file.digest.empty() && digest && *digest != measured.file.digest) {
        said = fmt::format("{} has changed since the study was saved: it is taken as it is now",
                           path.string());
    }
    measured.impulse.samples = std::move(sound->channels[channel]);
    measured.impulse.sample_rate_hz = sound->sample_rate_hz;
    measured.file = {};
    return said;
}

void take_files(const std::filesystem::path& folder, ReadStudy& read) {
    for (std::size_t i = 0; i < read.study.curves.size(); ++i) {
        if (!read.study.curves[i]->origin
            || !read.study.curves[i]->origin->measured->is_missing()) {
            continue;
        }
        Curve curve = *read.study.curves[i];
        std::string said = take_file(folder, curve.origin->measured.edit());
        auto made = worked_out(read.study, curve);
        if (made) {
            read.study.curves[i] = std::move(*made);
        } else {
            said = to_text(made.error());
        }
        if (!said.empty()) {
            read.warnings.push_back(fmt::format("curves[{}].impulse.file: {}", i, said));
        }
    }
}

// An id may hold anything: none leads out of the folder, and no two share a name.
std::string file_name_of(const Curve& curve, std::size_t place) {
    std::string safe = curve.id;
    for (char& c : safe) {
        const bool plain = (c >= 'a' && c <= 'z') || (c >= '0' && c <= '9') || c == '-' || c == '_';
        c = plain ? c : '-';
    }
    return safe == curve.id ? safe + ".wav" : fmt::format("{}.{}.wav", safe, place);
}

} // namespace

Expected<ReadStudy> open_study(const std::filesystem::path& path) {
    auto read = load_study(path);
    if (read) {
        take_files(path.parent_path(), *read);
    }
    return read;
}

Expected<void> save_study_and_responses(const Study& study, const std::filesystem::path& path) {
    if (!study.impulses_beside) {
        return save_study(study, path);
    }
    Study written = study;
    const std::string folder = path.stem().string() + " responses";
    std::size_t place = 0;
    for (auto& curve : written.curves) {
        ++place;
        if (!curve->origin || curve->origin->measured->impulse.samples.empty()) {
            continue;
        }
        auto file = write_response(path.parent_path(), folder + "/" + file_name_of(*curve, place),
                                   curve->origin->measured->impulse);
        if (!file) {
            return tl::unexpected(file.error());
        }
        curve.edit().origin->measured.edit().file = std::move(*file);
    }
    return save_study(written, path);
}

} // namespace syntonon
