// The panels of modelled filters: their fields between choices.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/panes/trim/fields_trim.h"

#include <QStringList>
#include <functional>
#include <vector>

class QComboBox;

namespace syntonon {

class ModelledTrim : public FieldsTrim {
    Q_OBJECT

public:
    struct Choice {
        QString title;
        QStringList items;
        int width = 0;
        QString step; // in the history; %1: the stage
        std::function<int(const StageSpec&)> chosen;
        std::function<void(StageSpec&, int)> choose;
    };
    // Of the choices so many stand before the fields, the others behind them.
    ModelledTrim(Session& session, std::vector<TrimField> fields, std::vector<Choice> choices,
                 std::size_t before, QWidget* parent = nullptr);
    void show_stage(const Stage& stage) override;
    bool needs_all_room() const override { return true; }

    QComboBox* choice(const QString& title) const; // null when there is none

private:
    void choose(std::size_t index, int item);

    std::vector<Choice> choices_;
    std::vector<QComboBox*> boxes_;
};

} // namespace syntonon
