// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/goal/house_curve_form.h"

#include "app/widgets/quantity_edit.h"

#include <QGridLayout>
#include <QLabel>
#include <QPushButton>
#include <array>

namespace syntonon {
namespace {

struct HouseField {
    const char* caption;
    const char* unit;
    Dimension dimension;
    double HouseCurve::*member;
};
constexpr std::array house_fields = {
    HouseField{"level", "dB", Dimension::level, &HouseCurve::level_db},
    HouseField{"rises below", "Hz", Dimension::frequency, &HouseCurve::rise_below_hz},
    HouseField{"each octave by", "dB", Dimension::level, &HouseCurve::rise_db_per_octave},
    HouseField{"down to", "Hz", Dimension::frequency, &HouseCurve::low_limit_hz},
    HouseField{"falls above", "Hz", Dimension::frequency, &HouseCurve::fall_above_hz},
    HouseField{"each octave by", "dB", Dimension::level, &HouseCurve::fall_db_per_octave},
    HouseField{"up to", "Hz", Dimension::frequency, &HouseCurve::high_limit_hz}};

} // namespace

HouseCurveForm::HouseCurveForm() {
    auto* grid = new QGridLayout(this);
    grid->setContentsMargins(0, 0, 0, 0);
    for (std::size_t i = 0; i < house_fields.size(); ++i) {
        const HouseField& field = house_fields.at(i);
        auto* edit = new QuantityEdit(field.dimension, field.unit);
        edit->setAccessibleName(tr(field.caption));
        edits_.push_back(edit);
        // The level alone, then three and three.
        const int row = i == 0 ? 0 : 1 + static_cast<int>((i - 1) % 3);
        const int column = i <= 3 ? 0 : 2;
        grid->addWidget(new QLabel(tr(field.caption)), row, column);
        grid->addWidget(edit, row, column + 1);
        connect(edit, &QuantityEdit::problem_found, this, &HouseCurveForm::problem_found);
        connect(edit, &QuantityEdit::value_entered, this, [this, i](std::optional<double> value) {
            if (value) {
                HouseCurve curve = shown_;
                curve.*house_fields.at(i).member = *value;
                emit entered(curve);
            }
        });
    }
    auto* keep = new QPushButton(tr("Keep as points"));
    grid->addWidget(keep, 4, 0, 1, 2);
    grid->setRowStretch(5, 1);
    connect(keep, &QPushButton::clicked, this, &HouseCurveForm::keep_asked);
}

void HouseCurveForm::show_curve(const HouseCurve& curve) {
    shown_ = curve;
    for (std::size_t i = 0; i < house_fields.size(); ++i) {
        edits_[i]->show_value(curve.*house_fields.at(i).member);
    }
}

} // namespace syntonon
