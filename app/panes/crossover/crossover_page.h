// The page that belongs to a crossover alone: which channel has which way, and what they come to
// together, on axis and off it.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/crossover_commands.h"
#include "app/model/session.h"
#include "app/plot/crossover_drawing.h"

#include <QWidget>
#include <array>
#include <optional>
#include <string>
#include <vector>

class QCheckBox;
class QComboBox;
class QLabel;
class QLayout;
class QPushButton;

namespace syntonon {

class QuantityEdit;

class CrossoverPlot : public QWidget {
    Q_OBJECT

public:
    explicit CrossoverPlot(QWidget* parent = nullptr);
    void show_picture(std::optional<CrossoverPicture> picture); // nothing: no way has a filter
    void show_form(CrossoverForm form);
    const std::optional<CrossoverPicture>& picture() const { return picture_; }

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    std::optional<CrossoverPicture> picture_;
    CrossoverForm form_ = CrossoverForm::level;
};

class CrossoverPage : public QWidget {
    Q_OBJECT

public:
    explicit CrossoverPage(Session& session, QWidget* parent = nullptr);
    static bool is_there(const Session& session); // the selected stage is a crossover's

    QComboBox* channel_of_way(int way) const { return rows_.at(at(way)).channel; } // from 1
    QuantityEdit* height_of_way(int way) const { return rows_.at(at(way)).height; }
    QPushButton* by_range() const { return by_range_; }
    QPushButton* align() const { return align_; }
    QCheckBox* adds_up() const { return adds_up_; } // filled, or delayed
    QComboBox* form() const { return form_; }
    QuantityEdit* angle() const { return angle_; }
    CrossoverPlot* plot() const { return plot_; }
    QString words() const;
    void look_from(double angle_deg); // off axis

protected:
    void showEvent(QShowEvent* event) override;

private:
    struct Row {
        QLabel* name;
        QComboBox* channel;
        QuantityEdit* height;
    };
    static std::size_t at(int way) { return static_cast<std::size_t>(way) - 1; }
    QLayout* make_choices();
    Row make_row(int way);
    void choose_channel(int way, int index);
    void refresh();
    void show_row(int way, const CrossoverSpec& spec);
    void show_sum();
    std::vector<WayHeard> heard() const;
    QString sum_words(const CrossoverPicture& picture, bool is_measured) const;

    Session& session_;
    std::vector<Row> rows_;
    std::vector<std::optional<WayPlace>> places_; // of the ways that are shown
    QCheckBox* adds_up_;
    QPushButton *by_range_, *align_;
    QComboBox* form_;
    QuantityEdit* angle_;
    CrossoverPlot* plot_;
    QLabel* words_;
    double angle_deg_ = 0; // looked at
};

} // namespace syntonon
