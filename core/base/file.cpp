// SPDX-License-Identifier: GPL-3.0-or-later
#include "core/base/file.h"

#include <cerrno>
#include <cstring>
#include <fcntl.h>
#include <fmt/format.h>
#include <sys/stat.h>
#include <system_error>
#include <unistd.h>
#include <utility>

namespace syntonon {
namespace {

namespace fs = std::filesystem;

class Descriptor {
public:
    explicit Descriptor(int fd) : fd_(fd) {}
    ~Descriptor() { close(); }
    Descriptor(const Descriptor&) = delete;
    Descriptor& operator=(const Descriptor&) = delete;

    int get() const { return fd_; }
    // The error of close(2) matters after writing: some file systems report a full disk only here.
    int close() { return fd_ < 0 ? 0 : ::close(std::exchange(fd_, -1)); }

private:
    int fd_;
};

std::string way_out_of(int error) {
    switch (error) {
    case ENOENT:
        return "check the name and the folder";
    case EACCES:
    case EPERM:
    case EROFS:
        return "choose a folder that you may write to, or change the permissions";
    case ENOSPC:
    case EDQUOT:
        return "free some space or choose another disk; nothing was overwritten";
    case EISDIR:
        return "name a file, not a folder";
    default:
        return "choose another place";
    }
}

tl::unexpected<Problem> system_refusal(const fs::path& path, std::string_view doing, int error) {
    return refuse(path.string(), fmt::format("{}: {}", doing, std::strerror(error)),
                  way_out_of(error));
}

// Zero, or the errno of the failure.
int write_all(int fd, std::string_view bytes) {
    while (!bytes.empty()) {
        const ssize_t written = ::write(fd, bytes.data(), bytes.size());
        if (written < 0) {
            if (errno == EINTR) {
                continue;
            }
            return errno;
        }
        bytes.remove_prefix(static_cast<std::size_t>(written));
    }
    return ::fsync(fd) == 0 ? 0 : errno;
}

void flush_folder(const fs::path& folder) {
    const Descriptor fd(::open(folder.c_str(), O_RDONLY | O_DIRECTORY | O_CLOEXEC));
    if (fd.get() >= 0) {
        ::fsync(fd.get()); // Best effort: some file systems do not flush folders.
    }
}

fs::path behind_links(const fs::path& path) {
    std::error_code error;
    if (fs::is_symlink(path, error)) {
        fs::path target = fs::weakly_canonical(path, error);
        if (!error) {
            return target;
        }
    }
    return path;
}

} // namespace

Expected<std::string> read_file(const fs::path& path, std::size_t most_bytes) {
    const Descriptor fd(::open(path.c_str(), O_RDONLY | O_CLOEXEC | O_NONBLOCK));
    if (fd.get() < 0) {
        return system_refusal(path, "cannot be opened", errno);
    }
    struct stat about {};
    if (::fstat(fd.get(), &about) != 0) {
        return system_refusal(path, "cannot be examined", errno);
    }
    if (S_ISDIR(about.st_mode)) {
        return refuse(path.string(), "is a folder", "name a file in it");
    }
    if (!S_ISREG(about.st_mode)) {
        return refuse(path.string(), "is not an ordinary file", "name an ordinary file");
    }
    const auto size = static_cast<std::size_t>(about.st_size);
    if (size > most_bytes) {
        return refuse(path.string(),
                      fmt::format("is {:.0f} MB, more than the {:.0f} MB that are read",
                                  static_cast<double>(size) / 1e6,
                                  static_cast<double>(most_bytes) / 1e6),
                      "check that it is the file you mean, or make it smaller");
    }
    std::string bytes(size, '\0');
    std::size_t filled = 0;
    while (filled < size) {
        const ssize_t got = ::read(fd.get(), bytes.data() + filled, size - filled);
        if (got < 0 && errno == EINTR) {
            continue;
        }
        if (got < 0) {
            return system_refusal(path, "cannot be read", errno);
        }
        if (got == 0) {
            break; // Shortened while we read.
        }
        filled += static_cast<std::size_t>(got);
    }
    bytes.resize(filled);
    return bytes;
}

StagedFile::StagedFile(fs::path path, fs::path target, std::string staged)
    : path_(std::move(path)), target_(std::move(target)), staged_(std::move(staged)) {}

StagedFile::StagedFile(StagedFile&& other) noexcept
    : path_(std::move(other.path_)), target_(std::move(other.target_)),
      staged_(std::exchange(other.staged_, {})) {}

StagedFile::~StagedFile() {
    if (!staged_.empty()) {
        ::unlink(staged_.c_str());
    }
}

Expected<StagedFile> StagedFile::write(const fs::path& path, std::string_view bytes, Links links) {
    const fs::path target = links == Links::follow ? behind_links(path) : path;
    struct stat old {};
    const bool exists = ::lstat(target.c_str(), &old) == 0 && !S_ISLNK(old.st_mode);
    if (exists && S_ISDIR(old.st_mode)) {
        return refuse(path.string(), "is a folder", "name a file in it");
    }
    if (exists && ::access(target.c_str(), W_OK) != 0) {
        return system_refusal(path, "cannot be written", errno);
    }
    std::string name = target.string() + ".XXXXXX";
    Descriptor fd(::mkostemp(name.data(), O_CLOEXEC));
    if (fd.get() < 0) {
        return system_refusal(path, "cannot be written", errno);
    }
    StagedFile staged(path, target, name);
    const mode_t mask = ::umask(0);
    ::umask(mask);
    ::fchmod(fd.get(), exists ? (old.st_mode & 07777) : (0666 & ~mask));

    int error = write_all(fd.get(), bytes);
    if (fd.close() != 0 && error == 0) {
        error = errno;
    }
    if (error != 0) {
        return system_refusal(path, "cannot be written", error);
    }
    return staged;
}

Expected<void> StagedFile::put_in_place() {
    if (::rename(staged_.c_str(), target_.c_str()) != 0) {
        return system_refusal(path_, "cannot be written", errno);
    }
    staged_.clear();
    flush_folder(target_.has_parent_path() ? target_.parent_path() : fs::path("."));
    return {};
}

Expected<void> write_file_atomically(const fs::path& path, std::string_view bytes, Links links) {
    auto staged = StagedFile::write(path, bytes, links);
    return staged ? staged->put_in_place() : tl::unexpected(staged.error());
}

} // namespace syntonon
