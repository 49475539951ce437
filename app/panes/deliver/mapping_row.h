// One stage of a channel and the objects of a device that do what it does.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "core/device/device_map.h"

#include <QAbstractButton>
#include <QString>

namespace syntonon {

// "Filter 3 parametric", "Section 1 … 4 polynomial".
QString objects_text(const std::vector<std::string>& paths, const oca::DeviceTree& tree);

// Two boxes with a line between them; a stage that fits nowhere dashed, with the reason beside it.
class MappingRow : public QAbstractButton {
    Q_OBJECT

public:
    explicit MappingRow(QWidget* parent = nullptr);

    void show_stage(const oca::MappedStage& stage, const QString& objects);
    const std::string& stage() const { return stage_; }
    const QString& objects() const { return objects_; }
    const QString& problem() const { return problem_; } // empty: none
    QSize sizeHint() const override { return {330, 32}; }

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    std::string stage_;
    QString title_, objects_, problem_;
};

} // namespace syntonon
