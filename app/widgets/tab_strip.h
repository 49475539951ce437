// Words in a row, one of them chosen.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QColor>
#include <QStringList>
#include <QWidget>
#include <vector>

namespace syntonon {

// Underlined words (companions, desks) or tabs with a colour square (channels). Left and Right move
// the choice; more channels than fit are scrolled with the wheel, long names are shortened.
class TabStrip : public QWidget {
    Q_OBJECT

public:
    enum class Look { words, channels };

    explicit TabStrip(Look look, QWidget* parent = nullptr);

    void set_tabs(const QStringList& names, const std::vector<QColor>& colours = {});
    void choose(int index); // without a signal
    int chosen() const { return chosen_; }
    QStringList names() const { return names_; }
    QRect tab_rect(int index) const; // where it is drawn, also outside of what is in view
    bool all_fit() const { return full_width() <= width(); }
    QString shown_name(int index) const { return shown_names_.value(index); } // shortened
    QString name_in_view(int index) const; // shortened further where the row ends
    void set_hints(const QStringList& hints) { hints_ = hints; }

    QSize sizeHint() const override;
    QSize minimumSizeHint() const override { return {60, sizeHint().height()}; }

signals:
    void chosen_by_user(int index);
    void opened_by_user(int index); // double click
    void menu_asked_for(int index, const QPoint& global);

protected:
    void paintEvent(QPaintEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;
    void keyPressEvent(QKeyEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void contextMenuEvent(QContextMenuEvent* event) override;
    void resizeEvent(QResizeEvent* event) override;
    bool event(QEvent* event) override;

private:
    int tab_at(const QPoint& point) const;
    QRect name_rect(int index) const;
    void paint_channel(QPainter& painter, int index);
    int natural_width_ = 0, gap_ = 0; // of words
    int full_width() const { return ends_.empty() ? 0 : ends_.back(); }
    void measure_names();
    void bring_into_view(int index);
    void take(int index);

    Look look_;
    QStringList names_, hints_;
    QStringList shown_names_;
    std::vector<int> ends_; // of each tab, in pixels from the first one's left side
    std::vector<QColor> colours_;
    int chosen_ = 0;
    int scrolled_ = 0; // pixels, of what is to the left of the view
};

} // namespace syntonon
