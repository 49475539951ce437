// Words in a row, one of them chosen.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QColor>
#include <QStringList>
#include <QWidget>
#include <vector>

namespace syntonon {

// Underlined words (companions) or tabs with a colour square (channels). Left and Right move the
// choice.
class TabStrip : public QWidget {
    Q_OBJECT

public:
    enum class Look { words, channels };

    explicit TabStrip(Look look, QWidget* parent = nullptr);

    void set_tabs(const QStringList& names, const std::vector<QColor>& colours = {});
    void choose(int index); // without a signal
    int chosen() const { return chosen_; }
    QStringList names() const { return names_; }
    QRect tab_rect(int index) const;

    QSize sizeHint() const override;
    QSize minimumSizeHint() const override { return {60, sizeHint().height()}; }

signals:
    void chosen_by_user(int index);
    void opened_by_user(int index); // double click

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;

private:
    int tab_at(const QPoint& point) const;
    int tab_width(int index) const;
    int scroll() const; // so that the chosen tab is in view
    void take(int index);

    Look look_;
    QStringList names_;
    std::vector<QColor> colours_;
    int chosen_ = 0;
};

} // namespace syntonon
