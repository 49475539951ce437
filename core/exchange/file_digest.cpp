// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/file_digest.h"

#include <algorithm>
#include <array>
#include <cstdio>
#include <fmt/format.h>
#include <memory>
#include <mutex>
#include <system_error>
#include <vector>
#include <xxhash.h>

namespace syntonon {

namespace {

// A file that was read is not read again while its size and time stay: a signal of it is made anew
// at every change.
struct KnownDigest {
    std::filesystem::path path;
    std::uintmax_t bytes = 0;
    std::filesystem::file_time_type time;
    std::string digest;
};

Expected<std::string> read_digest(const std::filesystem::path& path) {
    const std::unique_ptr<std::FILE, int (*)(std::FILE*)> file(std::fopen(path.c_str(), "rb"),
                                                               std::fclose);
    const std::unique_ptr<XXH3_state_t, XXH_errorcode (*)(XXH3_state_t*)> state(XXH3_createState(),
                                                                                XXH3_freeState);
    if (!file) {
        return refuse(path.string(), "cannot be opened", "is it there, and may it be read?");
    }
    XXH3_64bits_reset(state.get());
    std::array<char, 1 << 16> piece;
    while (const std::size_t count = std::fread(piece.data(), 1, piece.size(), file.get())) {
        XXH3_64bits_update(state.get(), piece.data(), count);
    }
    if (std::ferror(file.get()) != 0) {
        return refuse(path.string(), "cannot be read to its end", "copy it to a sound disk");
    }
    return fmt::format("xxh3-{:016x}", XXH3_64bits_digest(state.get()));
}

} // namespace

Expected<std::string> digest_of_file(const std::filesystem::path& path) {
    static std::mutex mutex;
    static std::vector<KnownDigest>& known = *new std::vector<KnownDigest>; // as long as any thread
    std::error_code failed;
    const KnownDigest now{path,
                          std::filesystem::file_size(path, failed),
                          std::filesystem::last_write_time(path, failed),
                          {}};
    const auto is_same = [&](const KnownDigest& one) {
        return one.path == now.path && one.bytes == now.bytes && one.time == now.time;
    };
    if (const std::lock_guard lock(mutex); !failed) {
        if (const auto found = std::ranges::find_if(known, is_same); found != known.end()) {
            return found->digest;
        }
    }
    auto digest = read_digest(path);
    if (digest && !failed) {
        constexpr std::size_t most_known = 64;
        const std::lock_guard lock(mutex);
        if (known.size() == most_known) {
            known.erase(known.begin());
        }
        known.push_back(now);
        known.back().digest = *digest;
    }
    return digest;
}

} // namespace syntonon
