// Levels over frequency in a small drawing, each with its name.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QColor>
#include <QString>
#include <QWidget>
#include <vector>

namespace syntonon {

struct NamedLevel {
    QString name;
    std::vector<double> db;
    QColor colour;
    Qt::PenStyle line = Qt::SolidLine;
};

class LevelPlot : public QWidget {
    Q_OBJECT

public:
    explicit LevelPlot(QWidget* parent = nullptr);
    // What stands above the drawing; "Level" otherwise.
    void set_title(const QString& title) { title_ = title; }
    // All at the same frequencies, ascending; none: `otherwise` is said in their place.
    void show_levels(std::vector<double> hz, std::vector<NamedLevel> levels,
                     const QString& otherwise = {});
    const std::vector<NamedLevel>& levels() const { return levels_; }

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    std::vector<double> hz_;
    std::vector<NamedLevel> levels_;
    QString title_, otherwise_;
};

} // namespace syntonon
