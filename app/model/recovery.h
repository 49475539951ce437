// A copy of unsaved work on the disk, a moment after every change.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"

#include <QDateTime>
#include <QLockFile>
#include <QObject>
#include <QThreadPool>
#include <QTimer>
#include <memory>
#include <vector>

namespace syntonon {

struct RecoveredWork {
    QString copy;     // the recovery file
    QString original; // where it was saved last; empty: never
    QString name;     // the study's
    QDateTime when;
};

// Each running program holds a lock beside its copy; a copy whose lock is stale was left by a
// crash. Copies are written beside the window, since the study is a value that a thread can keep.
class Recovery : public QObject {
    Q_OBJECT

public:
    explicit Recovery(Session& session, QObject* parent = nullptr);
    ~Recovery() override;

    void set_original(const QString& path) { original_ = path; }
    std::vector<RecoveredWork> found() const;
    void discard(const RecoveredWork& work);
    void forget();    // removes this program's copy
    void write_now(); // and waits until it is written

    static QString folder();

signals:
    void failed(const QString& reason);

private:
    void schedule();
    void write();
    QString copy_path() const;

    static constexpr int delay_ms = 1500;

    Session& session_;
    QString original_;
    QString id_;
    std::unique_ptr<QLockFile> lock_;
    QTimer timer_;
    QThreadPool writer_; // one thread, so that copies are written in order
};

} // namespace syntonon
