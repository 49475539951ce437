// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/recovery.h"

#include "core/base/file.h"
#include "core/study/study_json.h"

#include <QDir>
#include <QFile>
#include <QFileInfo>
#include <QStandardPaths>
#include <QUuid>
#include <algorithm>

namespace syntonon {
namespace {

// Beside the copy: where the work came from. Not in the study, which must stay as the user made it.
QString origin_path(const QString& copy) {
    return copy + ".origin";
}

QString lock_path(const QString& copy) {
    return copy + ".lock";
}

QString text_of_file(const QString& path) {
    QFile file(path);
    return file.open(QIODevice::ReadOnly) ? QString::fromUtf8(file.readAll()) : QString();
}

} // namespace

QString Recovery::folder() {
    return QStandardPaths::writableLocation(QStandardPaths::AppLocalDataLocation) + "/recovery";
}

Recovery::Recovery(Session& session, QObject* parent)
    : QObject(parent), session_(session), id_(QUuid::createUuid().toString(QUuid::WithoutBraces)) {
    writer_.setMaxThreadCount(1);
    writer_.setExpiryTimeout(2000);
    timer_.setSingleShot(true);
    timer_.setInterval(delay_ms);
    connect(&timer_, &QTimer::timeout, this, &Recovery::write);
    connect(&session_, &Session::study_changed, this, &Recovery::schedule);
}

Recovery::~Recovery() {
    writer_.waitForDone();
}

QString Recovery::copy_path() const {
    return folder() + "/" + id_ + ".syntonon";
}

void Recovery::schedule() {
    // Not restarted by each change: during a long drag a copy is still written every moment.
    if (!timer_.isActive()) {
        timer_.start();
    }
}

void Recovery::write() {
    if (!session_.is_modified()) {
        return;
    }
    if (!QDir().mkpath(folder())) {
        emit failed(tr("%1: the folder for recovery copies cannot be made; free that path, and "
                       "save often until then")
                        .arg(folder()));
        return;
    }
    if (!lock_) {
        lock_ = std::make_unique<QLockFile>(lock_path(copy_path()));
        lock_->setStaleLockTime(0);
        lock_->tryLock(0);
    }
    const QString copy = copy_path();
    writer_.start([this, study = session_.study(), copy, original = original_] {
        auto written =
            write_file_atomically(origin_path(copy).toStdString(), original.toStdString());
        if (written) {
            written = save_study(study, copy.toStdString());
        }
        if (!written) {
            emit failed(QString::fromStdString(to_text(written.error())));
        }
    });
}

void Recovery::write_now() {
    timer_.stop();
    write();
    writer_.waitForDone();
}

void Recovery::forget() {
    timer_.stop();
    writer_.waitForDone();
    QFile::remove(copy_path());
    QFile::remove(origin_path(copy_path()));
    lock_.reset();
}

std::vector<RecoveredWork> Recovery::found() const {
    std::vector<RecoveredWork> works;
    const QDir dir(folder());
    for (const QFileInfo& file : dir.entryInfoList({"*.syntonon"}, QDir::Files, QDir::Time)) {
        if (file.absoluteFilePath() == QFileInfo(copy_path()).absoluteFilePath()) {
            continue;
        }
        QLockFile lock(lock_path(file.absoluteFilePath()));
        lock.setStaleLockTime(0);
        if (!lock.tryLock(0)) {
            continue; // Another running program's.
        }
        const auto read = load_study(file.absoluteFilePath().toStdString());
        works.push_back({file.absoluteFilePath(),
                         text_of_file(origin_path(file.absoluteFilePath())),
                         read ? QString::fromStdString(read->study.name) : file.fileName(),
                         file.lastModified()});
    }
    return works;
}

void Recovery::discard(const RecoveredWork& work) {
    QFile::remove(work.copy);
    QFile::remove(origin_path(work.copy));
    QFile::remove(lock_path(work.copy));
}

} // namespace syntonon
