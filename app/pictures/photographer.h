// Pictures of widgets into a folder.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QApplication>
#include <QEventLoop>
#include <QPainter>
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

    void take(QWidget& widget, const QString& name) { keep(seen(widget), name); }
    // As two windows side by side, of the same height.
    void take_both(QWidget& left, QWidget& right, const QString& name) {
        const QPixmap pictures[] = {seen(left), seen(right)};
        QPixmap both(pictures[0].width() + pictures[1].width(), pictures[0].height());
        QPainter painter(&both);
        painter.drawPixmap(0, 0, pictures[0]);
        painter.drawPixmap(pictures[0].width(), 0, pictures[1]);
        painter.end();
        keep(both, name);
    }
    // The first that could not be written; empty: all were.
    const QString& failed() const { return failed_; }

private:
    static QPixmap seen(QWidget& widget) {
        QApplication::processEvents();
        QApplication::processEvents(); // layouts first, then what they asked to repaint
        return widget.grab();
    }
    void keep(const QPixmap& picture, const QString& name) {
        const QString path = folder_ + "/" + name + ".png";
        if (!picture.save(path)) {
            failed_ = failed_.isEmpty() ? path : failed_;
        }
    }

    QString folder_;
    QString failed_;
};

} // namespace syntonon
