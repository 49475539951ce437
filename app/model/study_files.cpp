// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/study_files.h"

#include "core/base/log.h"
#include "core/exchange/study_folder.h"

#include <QFileInfo>
#include <QSettings>
#include <memory>
#include <utility>

namespace syntonon {
namespace {

constexpr auto recent_key = "recent_studies";
constexpr int most_recent = 8;

} // namespace

StudyFiles::StudyFiles(Session& session, QObject* parent)
    : QObject(parent), session_(session), recovery_(session) {
    connect(&recovery_, &Recovery::failed, this, &StudyFiles::recovery_failed);
}

Expected<std::vector<std::string>> StudyFiles::open(const QString& path) {
    auto read = open_study(path.toStdString());
    if (!read) {
        return tl::unexpected(read.error());
    }
    log(LogLevel::info, "opened {}", path.toStdString());
    use_path(QFileInfo(path).absoluteFilePath());
    session_.replace_study(std::move(read->study));
    recovery_.forget();
    return std::move(read->warnings);
}

void StudyFiles::save(const QString& path, Saved saved) {
    if (writer_.is_busy()) {
        next_save_ = [this, path, saved] { save(path, saved); };
        return;
    }
    auto study = std::make_shared<const Study>(session_.study());
    writer_.begin(
        [study, file = path.toStdString()] { return save_study_and_responses(*study, file); },
        [this, path, study, saved](const Expected<void>& written) {
            if (written) {
                use_saved(path, *study);
            }
            saved(written);
            if (const auto next = std::exchange(next_save_, nullptr)) {
                next();
            }
        });
}

Expected<void> StudyFiles::save_as(const QString& path) {
    finish_saving();
    Expected<void> result;
    save(path, [&](const Expected<void>& saved) { result = saved; });
    finish_saving();
    return result;
}

void StudyFiles::use_saved(const QString& path, const Study& study) {
    log(LogLevel::info, "saved {}", path.toStdString());
    use_path(QFileInfo(path).absoluteFilePath());
    session_.mark_saved(study);
    if (!session_.is_modified()) {
        recovery_.forget();
    }
}

void StudyFiles::start_new() {
    use_path({});
    session_.replace_study(empty_study());
    recovery_.forget();
}

Expected<void> StudyFiles::restore(const RecoveredWork& work) {
    auto read = open_study(work.copy.toStdString());
    if (!read) {
        return tl::unexpected(read.error());
    }
    log(LogLevel::info, "restored {} (of {})", work.copy.toStdString(),
        work.original.toStdString());
    use_path(work.original);
    session_.replace_study(std::move(read->study));
    session_.mark_recovered();
    // Kept under this run's name before the old copy goes: at no moment is the work on no disk.
    recovery_.write_now();
    recovery_.discard(work);
    return {};
}

void StudyFiles::use_path(const QString& path) {
    path_ = path;
    recovery_.set_original(path);
    if (!path.isEmpty()) {
        remember(path);
    }
    emit path_changed();
}

QStringList StudyFiles::recent() {
    return QSettings().value(recent_key).toStringList();
}

void StudyFiles::remember(const QString& path) {
    QStringList paths = recent();
    paths.removeAll(path);
    paths.prepend(path);
    QSettings().setValue(recent_key, QStringList(paths.mid(0, most_recent)));
}

} // namespace syntonon
