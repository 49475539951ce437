// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/model/recovery.h"

#include "app/widgets/words.h"
#include "core/base/file.h"
#include "core/exchange/study_folder.h"
#include "core/study/study_change.h"

#include <QCoreApplication>
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

// What impulse responses are written into, each once: a study of many is long.
QString responses_name(const QString& copy) {
    return QFileInfo(copy).completeBaseName() + " responses";
}

QString lock_path(const QString& copy) {
    return copy + ".lock";
}

void remove_beside(const QString& copy) {
    QFile::remove(origin_path(copy));
    QDir(QFileInfo(copy).absolutePath() + "/" + responses_name(copy)).removeRecursively();
}

constexpr auto ended_on_request = "ended on request";

struct Origin {
    QString path;
    EndedBy ended_by = EndedBy::crash;
};

// Two lines: the study's path, and a word when the program was told to end.
Origin read_origin(const QString& copy) {
    QFile file(origin_path(copy));
    if (!file.open(QIODevice::ReadOnly)) {
        return {};
    }
    const QStringList lines = QString::fromUtf8(file.readAll()).split('\n');
    return {lines.value(0), lines.value(1) == ended_on_request ? EndedBy::request : EndedBy::crash};
}

std::string origin_text(const QString& path, EndedBy ended_by) {
    return (path
            + (ended_by == EndedBy::request ? QStringLiteral("\n") + ended_on_request : QString()))
        .toStdString();
}

} // namespace

QString size_of_change(const RecoveredWork& work) {
    const auto copy = open_study(work.copy.toStdString());
    if (!copy) {
        return tr("cannot be read");
    }
    const auto saved = work.original.isEmpty() ? Expected<ReadStudy>(ReadStudy{empty_study(), {}})
                                               : open_study(work.original.toStdString());
    if (!saved) {
        return tr("its file is no longer there");
    }
    return QString::fromStdString(to_text(change_between(saved->study, copy->study)));
}

QString Recovery::folder() {
    return QStandardPaths::writableLocation(QStandardPaths::GenericDataLocation) + "/"
           + QCoreApplication::applicationName() + "/recovery";
}

Recovery::Recovery(Session& session, QObject* parent)
    : QObject(parent), session_(session), id_(QUuid::createUuid().toString(QUuid::WithoutBraces)),
      responses_(folder().toStdString(), responses_name(copy_path()).toStdString()) {
    writer_.setMaxThreadCount(1);
    writer_.setExpiryTimeout(2000);
    timer_.setSingleShot(true);
    timer_.setTimerType(Qt::PreciseTimer);
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
    // Not restarted by each change: during a long drag copies are still written. The first change
    // after a pause is copied at once, those that follow a little apart.
    if (!timer_.isActive()) {
        const qint64 since = since_written_.isValid() ? since_written_.elapsed() : apart_ms;
        timer_.start(static_cast<int>(std::max<qint64>(soon_ms, apart_ms - since)));
    }
}

void Recovery::write() {
    if (!session_.is_modified() || has_left_) {
        return;
    }
    if (is_writing_) { // a slow disk: what comes next is written when this is done
        timer_.start(soon_ms);
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
    since_written_.start();
    is_writing_ = true;
    const QString copy = copy_path();
    writer_.start(
        [this, study = session_.study(), copy, origin = origin_text(original_, ended_by_)] {
            Expected<void> written;
            if (origin != written_origin_ || !QFile::exists(origin_path(copy))) {
                written = write_file_atomically(origin_path(copy).toStdString(), origin);
                written_origin_ = origin;
            }
            if (written) {
                written = responses_.kept_apart(study).and_then(
                    [&](const Study& apart) { return save_study(apart, copy.toStdString()); });
            }
            if (written) {
                responses_.remove_unused();
            }
            is_writing_ = false;
            if (!written) {
                emit failed(QString::fromStdString(to_text(written.error())));
            }
        });
}

void Recovery::leave(EndedBy ended_by) {
    ended_by_ = ended_by;
    write_now();
    has_left_ = true;
    lock_.reset();
}

void Recovery::write_now() {
    timer_.stop();
    writer_.waitForDone();
    write();
    timer_.stop();
    writer_.waitForDone();
}

// After what is being written; a slow disk is not waited for. Lock, origin and responses stay for
// the next copy, which is quick to write with them.
void Recovery::forget() {
    timer_.stop();
    writer_.start([copy = copy_path()] { QFile::remove(copy); });
    writer_.waitForDone(WriteBeside::grace_ms);
}

void Recovery::close() {
    forget();
    writer_.waitForDone();
    responses_.remove_all();
    remove_beside(copy_path());
    lock_.reset();
}

// What programs left that were killed with nothing unsaved.
void Recovery::remove_idle() {
    const QDir dir(folder());
    for (const QFileInfo& file : dir.entryInfoList({"*.syntonon.lock"}, QDir::Files)) {
        const QString copy = dir.filePath(file.completeBaseName());
        QLockFile lock(file.absoluteFilePath());
        lock.setStaleLockTime(0);
        if (!QFile::exists(copy) && lock.tryLock(0)) {
            remove_beside(copy); // and letting the lock go removes it
        }
    }
}

std::vector<RecoveredWork> Recovery::found() const {
    remove_idle();
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
        const Origin origin = read_origin(file.absoluteFilePath());
        works.push_back({file.absoluteFilePath(), origin.path,
                         read ? QString::fromStdString(read->study.name) : file.fileName(),
                         file.lastModified(), origin.ended_by});
    }
    return works;
}

void Recovery::discard(const RecoveredWork& work) {
    QFile::remove(work.copy);
    remove_beside(work.copy);
    QFile::remove(lock_path(work.copy));
}

} // namespace syntonon
