// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/trim/fields_trim.h"

#include "app/model/stage_commands.h"
#include "app/widgets/words.h"

#include <QHBoxLayout>
#include <QLineEdit>
#include <cmath>

namespace syntonon {

std::function<double(double, double)> steps_of(FieldSteps steps) {
    switch (steps) {
    case FieldSteps::by_ratio:
        return step_by_ratio;
    case FieldSteps::by_tenth:
        return step_by_tenth;
    case FieldSteps::by_one:
    case FieldSteps::whole:
        break;
    }
    return [](double value, double by) {
        return std::abs(by) >= 1 ? std::round(value + by) : value + (by > 0 ? 1 : -1);
    };
}

FieldsTrim::FieldsTrim(Session& session, std::vector<TrimField> fields, QWidget* parent)
    : TrimPanel(parent), session_(session), fields_(std::move(fields)),
      row_(new QHBoxLayout(this)) {
    row_->setContentsMargins(0, 0, 0, 0);
    row_->setSpacing(24);
    for (std::size_t i = 0; i < fields_.size(); ++i) {
        auto* box = new Field(fields_[i].format);
        constexpr int usual = 116, with_long_unit = 150; // "48000.0 samples"
        box->setFixedWidth(fields_[i].format.unit.size() > 4 ? with_long_unit : usual);
        if (fields_[i].canonical_per_unit != 1) {
            const Field::Format& format = fields_[i].format;
            box->set_unit(format.unit, format.unit.toUtf8().constData(),
                          fields_[i].canonical_per_unit, format.places);
        }
        row_->addWidget(box);
        boxes_.push_back(box);
        connect(box, &Field::value_entered, this,
                [this, i](double value, bool continuing) { take(i, value, continuing); });
    }
    row_->addStretch(1);
}

Field* FieldsTrim::field(std::string_view key) const {
    for (std::size_t i = 0; i < fields_.size(); ++i) {
        if (fields_[i].key == key) {
            return boxes_[i];
        }
    }
    return nullptr;
}

void FieldsTrim::edit(const QString& name, const QString& gesture,
                      const std::function<void(StageSpec&)>& change) {
    if (const Stage* stage = session_.stage()) {
        session_.edit_stage(
            name.arg(spoken_name(*stage)), [&](Stage& s) { change(s.spec); }, gesture);
    }
}

void FieldsTrim::take(std::size_t index, double value, bool continuing) {
    const Stage* stage = session_.stage();
    if (stage == nullptr) {
        return;
    }
    StageSpec tried = stage->spec;
    fields_[index].set(tried, value);
    if (const auto filter = session_.try_design(tried); !filter) {
        boxes_[index]->show_problem(
            QString::fromStdString(filter.error().reason + "; " + filter.error().way_out));
        return;
    }
    boxes_[index]->show_problem({});
    const QString key = QString::fromStdString(fields_[index].key);
    edit(tr("Change %1"),
         continuing ? session_.continuing_gesture(key + QString::fromStdString(stage->id))
                    : QString(),
         [&](StageSpec& spec) { fields_[index].set(spec, value); });
}

void FieldsTrim::show_stage(const Stage& stage) {
    const double rate = session_.study().sample_rate_hz;
    for (std::size_t i = 0; i < fields_.size(); ++i) {
        const auto chosen = fields_[i].chosen(stage.spec);
        const auto shown = chosen ? chosen : fields_[i].derived(stage.spec, rate);
        boxes_[i]->set_sample_rate(rate);
        boxes_[i]->setVisible(shown.has_value());
        boxes_[i]->show_value(shown.value_or(0), !chosen);
    }
    show_problems();
}

void FieldsTrim::show_problems() {
    const StageAnalysis* analysis = session_.stage_analysis();
    if (analysis == nullptr) {
        return;
    }
    const auto& filter = analysis->filter;
    for (std::size_t i = 0; i < fields_.size(); ++i) {
        if (!filter && filter.error().place == fields_[i].key) {
            boxes_[i]->show_problem(
                QString::fromStdString(filter.error().reason + "; " + filter.error().way_out));
        } else if (!boxes_[i]->editor()->isModified()) {
            boxes_[i]->show_problem({});
        }
    }
}

} // namespace syntonon
