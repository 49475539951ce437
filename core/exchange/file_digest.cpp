// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/exchange/file_digest.h"

#include <array>
#include <cstdio>
#include <fmt/format.h>
#include <memory>
#include <xxhash.h>

namespace syntonon {

Expected<std::string> digest_of_file(const std::filesystem::path& path) {
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

} // namespace syntonon
