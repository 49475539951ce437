// Pictures of widgets into a folder.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QApplication>
#include <QEventLoop>
#include <QPixmap>
#include <QString>
#include <QTimer>
#include <QWidget>
#include <functional>
#include <utility>

namespace syntonon {

// Until it holds, at most a minute.
inline void wait_until(const std::function<bool()>& holds) {
    constexpr int look_ms = 30, at_most = 2000;
    for (int i = 0; i < at_most && !holds(); ++i) {
        QEventLoop loop;
        QTimer::singleShot(look_ms, &loop, &QEventLoop::quit);
        loop.exec();
    }
}

class Photographer {
public:
    explicit Photographer(QString folder) : folder_(std::move(folder)) {}

    void take(QWidget& widget, const QString& name) {
        QApplication::processEvents();
        QApplication::processEvents(); // layouts first, then what they asked to repaint
        const QString path = folder_ + "/" + name + ".png";
        if (!widget.grab().save(path)) {
            failed_ = failed_.isEmpty() ? path : failed_;
        }
    }
    // The first that could not be written; empty: all were.
    const QString& failed() const { return failed_; }

private:
    QString folder_;
    QString failed_;
};

} // namespace syntonon
