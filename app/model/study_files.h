// Opening, saving, recent files, and recovery after a crash.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/recovery.h"
#include "app/model/session.h"
#include "app/model/write_beside.h"

#include <QString>
#include <QStringList>
#include <functional>

namespace syntonon {

// Which file the session's study belongs to. Problems are values: the window decides how to say
// them.
class StudyFiles : public QObject {
    Q_OBJECT

public:
    explicit StudyFiles(Session& session, QObject* parent = nullptr);

    // Leaves the present study untouched when it fails. The warnings name keys that were not known.
    Expected<std::vector<std::string>> open(const QString& path);
    // Beside the window, as the study is now (see WriteBeside); asked for again meanwhile, it is
    // saved once more. What is edited meanwhile stays unsaved.
    using Saved = std::function<void(const Expected<void>&)>;
    void save(const QString& path, Saved saved);
    Expected<void> save_as(const QString& path); // and waits
    bool is_saving() const { return writer_.is_busy(); }
    void finish_saving() { writer_.finish(); }
    void start_new();

    const QString& path() const { return path_; } // empty: never saved
    static QStringList recent();

    // Work that a crash left behind, newest first.
    std::vector<RecoveredWork> recoverable() const { return recovery_.found(); }
    Expected<void> restore(const RecoveredWork& work);
    void discard(const RecoveredWork& work) { recovery_.discard(work); }
    // The window closes in order: nothing is left to recover.
    void close() { recovery_.close(); }
    // The program has to end: the unsaved work is kept and offered next time.
    void leave(EndedBy ended_by) { recovery_.leave(ended_by); }
    // Writes the copy for recovery now instead of in a moment.
    void keep_recovery_copy() { recovery_.write_now(); }

signals:
    void path_changed();
    void recovery_failed(const QString& reason);

private:
    void use_path(const QString& path);
    void use_saved(const QString& path, const Study& study);
    static void remember(const QString& path);

    Session& session_;
    Recovery recovery_;
    QString path_;
    std::function<void()> next_save_;
    WriteBeside writer_;
};

} // namespace syntonon
