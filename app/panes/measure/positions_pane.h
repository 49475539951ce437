// The measured positions of every channel, each with a disc that shows it on the lanes.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/latest_beside.h"
#include "app/model/session.h"
#include "app/plot/lane_content.h"
#include "app/widgets/theme.h"
#include "core/curve/recording_check.h"

#include <QList>
#include <QWidget>
#include <map>
#include <optional>
#include <vector>

class QLabel;
class QPushButton;
class QTreeWidget;
class QTreeWidgetItem;

namespace syntonon {

class LaneStack;

class PositionsPane : public QWidget {
    Q_OBJECT

public:
    PositionsPane(Session& session, LaneStack& lanes, QWidget* parent = nullptr);

    QTreeWidget* tree() const { return tree_; }
    QPushButton* import_button() const { return import_; }
    QString said() const; // of doubtful positions, below the tree
    bool is_busy() const { return work_.is_busy(); }
    // The row of a curve under a channel; null where there is none.
    QTreeWidgetItem* row_of(const std::string& curve) const;
    void fill(); // now; else when it is looked at

signals:
    void import_asked_for();

protected:
    void showEvent(QShowEvent* event) override;

private:
    void follow();
    QList<QTreeWidgetItem*> make_groups();
    void show_groups(const QList<QTreeWidgetItem*>& groups);
    QString known_level_of(const Curve& curve);
    void refresh();
    void add_curve_row(QTreeWidgetItem& group, const Position& position);
    QTreeWidgetItem* make_group(const QString& name, const QColor& colour, int channel,
                                std::size_t count);
    void take_click(QTreeWidgetItem* item, int column);
    void take_check(QTreeWidgetItem* item);
    void take_weight(const QTreeWidgetItem* item);
    void add_average_rows(QTreeWidgetItem& group, const Channel& channel);
    void show_noise(QTreeWidgetItem& row, const Curve& curve);
    void work_out_noise();
    void say_what_there_is();

    Session& session_;
    LaneStack& lanes_;
    QTreeWidget* tree_;
    QLabel* said_;
    // Signal to noise of what was measured, in the worst octave.
    struct Noise {
        SharedValue<Measurement> of;
        std::optional<BandNoise> worst;
    };
    std::vector<Noise> noise_;
    LatestBeside work_{this};
    QPushButton *import_, *alone_, *together_;
    bool filling_ = false;
    // What the tree was filled from.
    struct Seen {
        Study study;
        int channel = 0;
        std::string in_hand;
        CurveChoices choices;
        ThemeName theme = ThemeName::paper;
        bool operator==(const Seen&) const = default;
    };
    std::map<const Curve*, QString> levels_; // of one filling
    std::optional<Seen> seen_;
};

} // namespace syntonon
