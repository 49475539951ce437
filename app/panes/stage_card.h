// One stage on the rail: name, main numbers, a small drawing of its own response, on or off.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"

#include <QAbstractButton>
#include <QWidget>

namespace syntonon {

// The switch on a card: a filled disc is on, a ring is off.
class StageSwitch : public QAbstractButton {
    Q_OBJECT

public:
    explicit StageSwitch(QWidget* parent);

protected:
    void paintEvent(QPaintEvent* event) override;
};

class StageCard : public QWidget {
    Q_OBJECT

public:
    explicit StageCard(Session& session, QWidget* parent = nullptr);

    void show_stage(const std::string& id); // after a change
    const std::string& id() const { return id_; }
    StageSwitch* on_switch() const { return switch_; }

    QSize sizeHint() const override { return {132, height()}; }

signals:
    void dragged(const QPoint& global);
    void dropped();
    void rename_asked_for();

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseReleaseEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void focusInEvent(QFocusEvent* event) override;
    void contextMenuEvent(QContextMenuEvent* event) override;

private:
    const Stage* stage() const;
    void paint_response(QPainter& painter, const QRectF& area) const;
    void paint_words(QPainter& painter, const Stage& stage) const;
    bool is_unstable() const;
    QString numbers_of(const Stage& stage) const;

    Session& session_;
    std::string id_;
    StageSwitch* switch_;
    std::shared_ptr<const StageAnalysis> shown_;
    bool is_head_ = false; // of the chains that the stage holds, which show what it does
    QPoint pressed_at_;
    bool dragging_ = false;
};

} // namespace syntonon
