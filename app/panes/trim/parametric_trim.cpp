// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/trim/parametric_trim.h"

#include "app/model/stage_commands.h"
#include "app/panes/trim/trim_panels.h"
#include "app/widgets/field.h"
#include "app/widgets/theme.h"
#include "app/widgets/titled_box.h"
#include "core/study/kinds.h"

#include <QComboBox>
#include <QHBoxLayout>
#include <QLineEdit>

namespace syntonon {
namespace {

QString title(ParametricShape shape) {
    const std::string_view text = title_of(shape);
    return QString::fromUtf8(text.data(), static_cast<qsizetype>(text.size()));
}

// First-order shapes keep what they can of a second-order spec and the other way round.
void set_shape(ParametricSpec& spec, ParametricShape shape) {
    spec.shape = shape;
    if (!can_match_nyquist(spec)) {
        spec.mapping = ParametricMapping::bilinear;
    }
    if (!has_first_order(shape)) {
        spec.order = 2;
    }
}

void set_width_kind_for(ParametricSpec& spec, const Axis& axis, ParametricShape shape) {
    if (accepts(shape, spec.width.kind)) {
        return;
    }
    const double q = width_as(spec, WidthKind::q, axis).value_or(0.7071);
    spec.width = {WidthKind::q, q};
}

} // namespace

TrimPanel* make_panel(const ParametricSpec&, Session& session) {
    return new ParametricTrim(session);
}

void offer(const ParametricSpec&, std::vector<NewStage>& offers) {
    for (const ParametricShape shape : all_parametric_shapes) {
        ParametricSpec spec;
        spec.shape = shape;
        const bool bell = shape == ParametricShape::peak || shape == ParametricShape::notch
                          || shape == ParametricShape::band_pass;
        spec.width.value = bell ? 1.4 : 0.7071;
        spec.frequency_hz = shape == ParametricShape::high_pass    ? 30
                            : shape == ParametricShape::low_shelf  ? 120
                            : shape == ParametricShape::high_shelf ? 8000
                            : shape == ParametricShape::low_pass   ? 16000
                                                                   : 1000;
        spec.gain_db = has_gain(shape) ? -3 : 0;
        offers.push_back({title(shape), spec});
    }
}

ParametricTrim::ParametricTrim(Session& session, QWidget* parent)
    : TrimPanel(parent), session_(session), shape_(new QComboBox), order_(new QComboBox),
      mapping_(new QComboBox),
      frequency_(
          new Field({tr("Frequency"), tr("Hz"), Dimension::frequency, 1, false, step_by_ratio})),
      gain_(new Field({tr("Gain"), tr("dB"), Dimension::level, 2, true, step_by_tenth})),
      q_(new Field({tr("Q"), {}, Dimension::plain, 3, false, step_by_ratio})),
      bandwidth_(
          new Field({tr("or bandwidth"), tr("oct"), Dimension::octaves, 3, false, step_by_ratio})),
      slope_(new Field({tr("or slope"), {}, Dimension::plain, 3, false, step_by_ratio})) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(20);
    for (const ParametricShape shape : all_parametric_shapes) {
        shape_->addItem(title(shape));
    }
    order_->addItems({tr("first"), tr("second")});
    shape_->setAccessibleName(tr("Shape"));
    order_->setAccessibleName(tr("Order"));
    row->addWidget(new TitledBox(tr("Shape"), shape_, 122));
    row->addWidget(new TitledBox(tr("Order"), order_, 98));
    for (Field* field : {frequency_, gain_, q_, bandwidth_, slope_}) {
        field->setFixedWidth(field == frequency_ ? 116 : 96);
        row->addWidget(field);
    }
    mapping_->addItems({tr("bilinear"), tr("matched")});
    mapping_->setAccessibleName(tr("Mapping"));
    mapping_->setToolTip(tr("Bilinear narrows towards half the sample rate; matched follows the "
                            "analog level up to there"));
    mapping_box_ = new TitledBox(tr("Mapping"), mapping_, 112);
    row->addWidget(mapping_box_);
    row->addStretch(1);
    connect(mapping_, &QComboBox::activated, this, &ParametricTrim::take_mapping);
    connect(shape_, &QComboBox::activated, this, [this](int index) {
        const ParametricShape shape = all_parametric_shapes.at(static_cast<std::size_t>(index));
        edit(tr("Make %1 a %2"), "shape", false, [this, shape](ParametricSpec& s) {
            set_width_kind_for(s, session_.axis(), shape);
            set_shape(s, shape);
        });
    });
    connect(order_, &QComboBox::activated, this, [this](int index) {
        edit(tr("Change the order of %1"), "order", false,
             [index](ParametricSpec& s) { s.order = index + 1; });
    });
    connect_field(frequency_, tr("Change the frequency of %1"), "frequency",
                  [](ParametricSpec& s, double v) { s.frequency_hz = v; });
    connect_field(gain_, tr("Change the gain of %1"), "gain",
                  [](ParametricSpec& s, double v) { s.gain_db = v; });
    connect_field(q_, tr("Change the Q of %1"), "q", [](ParametricSpec& s, double v) {
        s.width = {WidthKind::q, v};
    });
    connect_field(bandwidth_, tr("Change the bandwidth of %1"), "bandwidth",
                  [](ParametricSpec& s, double v) {
                      s.width = {WidthKind::bandwidth_oct, v};
                  });
    connect_field(slope_, tr("Change the slope of %1"), "slope", [](ParametricSpec& s, double v) {
        s.width = {WidthKind::slope, v};
    });
}

void ParametricTrim::take_mapping(int index) {
    const auto mapping =
        index == 1 ? ParametricMapping::nyquist_matched : ParametricMapping::bilinear;
    const Stage* stage = session_.stage();
    if (stage == nullptr) {
        return;
    }
    StageSpec tried = stage->spec;
    std::get<ParametricSpec>(tried.edit()).mapping = mapping;
    if (const auto ok = session_.try_design(tried); !ok) {
        frequency_->show_problem(
            QString::fromStdString(ok.error().reason + "; " + ok.error().way_out));
        show_stage(*stage);
        return;
    }
    edit(tr("Map %1 another way"), "mapping", false,
         [mapping](ParametricSpec& s) { s.mapping = mapping; });
}

void ParametricTrim::connect_field(Field* field, const QString& name, const char* what,
                                   std::function<void(ParametricSpec&, double)> set) {
    connect(field, &Field::value_entered, this,
            [this, field, name, what, set = std::move(set)](double value, bool continuing) {
                const Stage* stage = session_.stage();
                if (stage == nullptr) {
                    return;
                }
                // Tried before it is taken: a value that cannot be designed is explained, not
                // applied.
                StageSpec tried = stage->spec;
                set(std::get<ParametricSpec>(tried.edit()), value);
                if (const auto filter = session_.try_design(tried); !filter) {
                    field->show_problem(QString::fromStdString(filter.error().reason + "; "
                                                               + filter.error().way_out));
                    return;
                }
                field->show_problem({});
                edit(name, what, continuing, [&](ParametricSpec& s) { set(s, value); });
            });
}

void ParametricTrim::edit(const QString& name, const QString& what, bool continuing,
                          const Change& change) {
    const Stage* stage = session_.stage();
    if (stage == nullptr) {
        return;
    }
    StageSpec tried = stage->spec;
    change(std::get<ParametricSpec>(tried.edit()));
    const QString full =
        name.contains("%2") ? name.arg(
            spoken_name(*stage), title(std::get<ParametricSpec>(tried.edit()).shape).toLower())
                            : name.arg(spoken_name(*stage));
    session_.edit_stage(
        full, [&](Stage& s) { change(std::get<ParametricSpec>(s.spec.edit())); },
        continuing ? session_.continuing_gesture(what + QString::fromStdString(stage->id))
                   : QString());
}

void ParametricTrim::show_stage(const Stage& stage) {
    const auto& spec = std::get<ParametricSpec>(*stage.spec);
    const auto shape =
        std::ranges::find(all_parametric_shapes, spec.shape) - all_parametric_shapes.begin();
    if (shape_->currentIndex() != static_cast<int>(shape)) {
        shape_->setCurrentIndex(static_cast<int>(shape));
    }
    mapping_->setCurrentIndex(spec.mapping == ParametricMapping::nyquist_matched ? 1 : 0);
    mapping_box_->setVisible(!session_.axis().is_analog() && can_match_nyquist(spec));
    order_->setCurrentIndex(spec.order - 1);
    order_->setEnabled(has_first_order(spec.shape));
    for (Field* field : {frequency_, gain_, q_, bandwidth_, slope_}) {
        field->set_sample_rate(session_.study().sample_rate_hz);
    }
    frequency_->show_value(spec.frequency_hz);
    gain_->show_value(spec.gain_db);
    gain_->setVisible(has_gain(spec.shape));
    show_widths(spec);
    show_problems();
}

void ParametricTrim::show_widths(const ParametricSpec& spec) {
    for (const auto& [field, kind] : {std::pair{q_, WidthKind::q},
                                      {bandwidth_, WidthKind::bandwidth_oct},
                                      {slope_, WidthKind::slope}}) {
        field->setVisible(has_width(spec) && accepts(spec.shape, kind));
        const auto value = width_as(spec, kind, session_.axis());
        const bool chosen = spec.width.kind == kind;
        field->show_value(chosen ? spec.width.value : value.value_or(0), !chosen);
    }
}

// A stage that cannot be designed (after a change of sample rate, or from a file) says why beside
// the field it is about.
void ParametricTrim::show_problems() {
    const StageAnalysis* analysis = session_.stage_analysis();
    if (analysis == nullptr) {
        return;
    }
    const auto& filter = analysis->filter;
    for (const auto& [field, place] : {std::pair{frequency_, "frequency_hz"},
                                       {gain_, "gain_db"},
                                       {q_, "q"},
                                       {bandwidth_, "bandwidth_oct"},
                                       {slope_, "slope"}}) {
        if (!filter && filter.error().place == place) {
            field->show_problem(
                QString::fromStdString(filter.error().reason + "; " + filter.error().way_out));
        } else if (!field->editor()->isModified()) {
            field->show_problem({});
        }
    }
}

} // namespace syntonon
