// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/response_files.h"

#include "core/base/file.h"
#include "core/exchange/file_digest.h"
#include "core/exchange/sound_taps.h"

#include <algorithm>
#include <fmt/format.h>
#include <system_error>
#include <utility>

namespace syntonon {

Expected<ImpulseFile> write_response(const std::filesystem::path& folder, const std::string& name,
                                     const ImpulseResponse& impulse) {
    const std::filesystem::path path = folder / name;
    std::error_code failed;
    std::filesystem::create_directories(path.parent_path(), failed);
    if (failed) {
        return refuse(path.parent_path().string(), "cannot be made: " + failed.message(),
                      "choose another folder, or keep impulse responses in the study");
    }
    const auto bytes = sound_of_taps(impulse.samples, impulse.sample_rate_hz, SoundFormat::wav);
    if (!bytes) {
        return tl::unexpected(in_file(path.string(), bytes.error()));
    }
    const auto there = read_file(path, bytes->size());
    if (!there || *there != *bytes) {
        if (auto ok = write_file_atomically(path, *bytes); !ok) {
            return tl::unexpected(ok.error());
        }
    }
    return digest_of_file(path).map([&](std::string digest) {
        return ImpulseFile{name, std::move(digest), 1};
    });
}

namespace {

Measurement without_samples(const Measurement& measured, const ImpulseFile& file) {
    Measurement named;
    named.impulse.sample_rate_hz = measured.impulse.sample_rate_hz;
    named.impulse.begins_at = measured.impulse.begins_at;
    named.file = file;
    named.harmonics = measured.harmonics;
    named.unknown = measured.unknown;
    return named;
}

} // namespace

ResponseFiles::ResponseFiles(std::filesystem::path folder, std::string name)
    : folder_(std::move(folder)), name_(std::move(name)) {}

Expected<ResponseFiles::Kept*> ResponseFiles::kept(const SharedValue<Measurement>& measured) {
    const auto known = std::ranges::find_if(
        kept_, [&](const Kept& one) { return one.measured.same_as(measured); });
    if (known != kept_.end()) {
        std::error_code ignored;
        if (std::filesystem::exists(folder_ / known->file.path, ignored)) {
            return &*known;
        }
        kept_.erase(known); // somebody has tidied up
    }
    const std::string name = fmt::format("{}/{}.wav", name_, ++written_);
    auto file = write_response(folder_, name, measured->impulse);
    if (!file) {
        return tl::unexpected(file.error());
    }
    kept_.push_back({measured, std::move(*file), true});
    return &kept_.back();
}

Expected<Study> ResponseFiles::kept_apart(Study study) {
    for (Kept& one : kept_) {
        one.is_used = false;
    }
    for (auto& curve : study.curves) {
        constexpr std::size_t longest_within = 4096; // samples: such are read quickly anyway
        if (!curve->origin || curve->origin->measured->impulse.samples.size() <= longest_within) {
            continue;
        }
        const auto one = kept(curve->origin->measured);
        if (!one) {
            return tl::unexpected(one.error());
        }
        (*one)->is_used = true;
        curve.edit().origin->measured = without_samples(*curve->origin->measured, (*one)->file);
    }
    return study;
}

void ResponseFiles::remove_unused() {
    std::erase_if(kept_, [this](const Kept& one) {
        if (!one.is_used) {
            std::error_code ignored;
            std::filesystem::remove(folder_ / one.file.path, ignored);
        }
        return !one.is_used;
    });
}

void ResponseFiles::remove_all() {
    kept_.clear();
    std::error_code ignored;
    std::filesystem::remove_all(folder_ / name_, ignored);
}

} // namespace syntonon
