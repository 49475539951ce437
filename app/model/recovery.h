// A copy of unsaved work on the disk, a moment after every change.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"
#include "app/model/write_beside.h"
#include "core/exchange/response_files.h"

#include <QDateTime>
#include <QElapsedTimer>
#include <QLockFile>
#include <QObject>
#include <QThreadPool>
#include <QTimer>
#include <atomic>
#include <memory>
#include <vector>

namespace syntonon {

// Why there is a copy although the program has ended.
enum class EndedBy {
    crash,
    request // it was told to end (SIGTERM, the desktop's logout) and kept the work
};

struct RecoveredWork {
    QString copy;     // the recovery file
    QString original; // where it was saved last; empty: never
    QString name;     // the study's
    QDateTime when;
    EndedBy ended_by = EndedBy::crash;
};

// Against the file it came from, or what there is of it when it was never saved.
QString size_of_change(const RecoveredWork& work);

// Each running program holds a lock beside its copy; a copy whose lock is stale was left by a
// crash. Copies are written beside the window, since the study is a value that a thread can keep;
// they trail the work by soon_ms after a pause and by apart_ms while changes follow one another,
// plus what writing takes.
class Recovery : public QObject {
    Q_OBJECT

public:
    static constexpr int soon_ms = 20, apart_ms = 100;

    explicit Recovery(Session& session, QObject* parent = nullptr);
    ~Recovery() override;

    void set_original(const QString& path) { original_ = path; }
    std::vector<RecoveredWork> found() const; // newest first
    void discard(const RecoveredWork& work);
    void forget();    // removes this program's copy
    void close();     // the same, and waits until it is gone
    void write_now(); // and waits until it is written
    // The same, and lets the copy go, so that it is offered next time.
    void leave(EndedBy ended_by);

    static QString folder();

signals:
    void failed(const QString& reason);

private:
    void schedule();
    void write();
    static void remove_idle();
    QString copy_path() const;

    Session& session_;
    QString original_;
    QString id_;
    EndedBy ended_by_ = EndedBy::crash;
    std::unique_ptr<QLockFile> lock_;
    QTimer timer_;
    QElapsedTimer since_written_;
    std::atomic<bool> is_writing_ = false;
    bool has_left_ = false;
    std::string written_origin_; // the writer's own, as the responses are
    ResponseFiles responses_;
    QThreadPool writer_; // one thread, so that copies are written in order
};

} // namespace syntonon
