// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/trim/roots_trim.h"

#include "app/model/root_commands.h"
#include "app/model/stage_commands.h"
#include "app/panes/trim/trim_panels.h"
#include "app/widgets/field.h"
#include "app/widgets/theme.h"
#include "app/widgets/words.h"
#include "core/base/units.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QToolButton>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

double step_by_hundredth(double value, double steps) {
    return value + 0.01 * steps;
}
double step_of_angle(double value, double steps) {
    return value + steps;
}
// Of a radius: towards the circle or away from it in equal parts.
double step_of_radius(double value, double steps) {
    const double gap = std::max(std::abs(1 - value), 1e-4);
    return value + gap * 0.06 * steps;
}

Field::Format format_of(RootNumber which) {
    switch (which) {
    case RootNumber::real:
        return {tr("Real"), "", Dimension::plain, 5, true, step_by_hundredth};
    case RootNumber::imaginary:
        return {tr("Imaginary"), "", Dimension::plain, 5, true, step_by_hundredth};
    case RootNumber::radius:
        return {tr("Radius"), "", Dimension::plain, 6, false, step_of_radius};
    case RootNumber::angle_deg:
        return {tr("Angle"), "°", Dimension::angle, 2, false, step_of_angle};
    case RootNumber::frequency_hz:
        return {tr("Frequency"), "Hz", Dimension::frequency, 1, false, step_by_ratio};
    case RootNumber::q:
        return {tr("Q"), "", Dimension::plain, 3, false, step_by_ratio};
    case RootNumber::bandwidth_hz:
        return {tr("Bandwidth"), "Hz", Dimension::frequency, 2, false, step_by_ratio};
    case RootNumber::decay_s:
        break;
    }
    return {tr("−60 dB in"), "ms", Dimension::time, 2, false, step_by_ratio};
}

QToolButton* arrow(const QString& text, const QString& tip) {
    auto* button = new QToolButton;
    button->setText(text);
    button->setToolTip(tip);
    button->setAccessibleName(tip);
    button->setAutoRaise(true);
    button->setFixedSize(24, 24);
    return button;
}

} // namespace

RootsTrim::RootsTrim(Session& session, QWidget* parent)
    : TrimPanel(parent), session_(session), before_(arrow("◂", tr("The root before"))),
      next_(arrow("▸", tr("The next root"))), root_(new QLabel), place_(new QLabel),
      gain_(new Field({tr("Gain"), "×", Dimension::plain, 5, true, step_by_ratio})) {
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(0, 0, 0, 0);
    row->setSpacing(10);
    auto* which = new QVBoxLayout;
    which->setSpacing(0);
    auto* arrows = new QHBoxLayout;
    arrows->setSpacing(2);
    arrows->addWidget(before_);
    arrows->addWidget(place_);
    arrows->addWidget(next_);
    arrows->addStretch(1);
    place_->setFont(text_font(11));
    root_->setFont(text_font(12));
    root_->setFixedWidth(126);
    which->addLayout(arrows);
    which->addWidget(root_);
    which->addStretch(1);
    row->addLayout(which);
    for (const RootNumber number : all_root_numbers) {
        auto* field = new Field(format_of(number));
        field->setMaximumWidth(104);
        fields_[static_cast<std::size_t>(number)] = field;
        if (number == RootNumber::decay_s) {
            field->set_unit("ms", "ms", 1e-3, 2);
        }
        row->addWidget(field);
        connect(field, &Field::value_entered, this,
                [this, number](double value, bool continuing) { take(number, value, continuing); });
    }
    gain_->setMaximumWidth(104);
    row->addWidget(gain_);
    row->addStretch(0);
    connect(gain_, &Field::value_entered, this, &RootsTrim::take_gain);
    connect(before_, &QToolButton::clicked, this, [this] { go_on(-1); });
    connect(next_, &QToolButton::clicked, this, [this] { go_on(1); });
    connect(&session_.roots_in_hand(), &RootsInHand::changed, this, &RootsTrim::show_root);
}

std::vector<RootRef> RootsTrim::roots_of_stage() const {
    std::vector<RootRef> refs;
    const StageAnalysis* stage = session_.stage_analysis();
    if (stage == nullptr || !stage->filter || !stage->filter->roots()) {
        return refs;
    }
    const Roots& roots = *stage->filter->roots();
    for (const bool pole : {true, false}) {
        const auto& list = pole ? roots.poles : roots.zeros;
        for (std::size_t i = 0; i < list.size(); ++i) {
            if (list[i].imag() >= 0) {
                refs.push_back({session_.selection().stage, {pole, i}});
            }
        }
    }
    return refs;
}

// The one in hand, or the first.
std::optional<RootRef> RootsTrim::shown_root() const {
    const auto all = roots_of_stage();
    for (const RootRef& root : session_.roots_in_hand().roots()) {
        if (root.stage == session_.selection().stage && value_of(session_, root)) {
            return root;
        }
    }
    return all.empty() ? std::nullopt : std::optional(all.front());
}

void RootsTrim::go_on(int by) {
    const auto all = roots_of_stage();
    const auto now = shown_root();
    if (all.empty() || !now) {
        return;
    }
    const auto at = std::ranges::find(all, *now) - all.begin();
    const auto count = static_cast<std::ptrdiff_t>(all.size());
    session_.roots_in_hand().hold({all[static_cast<std::size_t>((at + by + count) % count)]});
}

void RootsTrim::show_stage(const Stage& stage) {
    const auto* spec = std::get_if<RootsSpec>(&*stage.spec);
    gain_->show_value(spec != nullptr ? spec->gain : 1);
    show_root();
}

void RootsTrim::show_root() {
    const auto ref = shown_root();
    const auto value = ref ? value_of(session_, *ref) : std::nullopt;
    for (const RootNumber number : all_root_numbers) {
        Field* box = field(number);
        box->setEnabled(value.has_value());
        box->set_sample_rate(session_.study().sample_rate_hz);
        if (!value) {
            continue;
        }
        const std::complex<double> upper(value->real(), std::abs(value->imag()));
        const double shown = number_of(upper, number, session_.axis());
        const bool on_axis =
            upper.imag() == 0
            && (number == RootNumber::imaginary || number == RootNumber::angle_deg
                || number == RootNumber::q
                || (number == RootNumber::frequency_hz && !session_.axis().is_analog()));
        box->setEnabled(!on_axis);
        box->show_value(std::isnan(shown) ? 0 : shown, !std::isfinite(shown) || on_axis);
        box->show_problem({});
    }
    if (!value) {
        root_->setText(tr("no roots yet"));
        place_->clear();
        return;
    }
    const auto all = roots_of_stage();
    const auto upper = std::ranges::find_if(all, [&](const RootRef& root) {
        return root == *ref
               || (root.place.is_pole == ref->place.is_pole
                   && value_of(session_, root) == std::conj(*value));
    });
    place_->setText(tr("%1 of %2").arg(upper - all.begin() + 1).arg(all.size()));
    root_->setText(name_of_root(*value, ref->place.is_pole, session_.axis()));
}

void RootsTrim::take(RootNumber which, double value, bool continuing) {
    const auto root = shown_root();
    if (!root) {
        return;
    }
    const auto done = set_root_number(session_, *root, which, value, continuing);
    field(which)->show_problem(
        done ? QString()
             : QString::fromStdString(done.error().reason + "; " + done.error().way_out));
    if (done) {
        session_.roots_in_hand().hold({*root});
    }
}

void RootsTrim::take_gain(double value, bool continuing) {
    const Stage* stage = session_.stage();
    if (stage == nullptr) {
        return;
    }
    session_.edit_stage(
        tr("Change the gain of %1").arg(spoken_name(*stage)),
        [value](Stage& s) { std::get<RootsSpec>(s.spec.edit()).gain = value; },
        continuing ? session_.continuing_gesture("gain of roots") : QString());
}

TrimPanel* make_panel(const RootsSpec&, Session& session) {
    return new RootsTrim(session);
}

// Places to begin at, in the z-plane; in an analog channel roots are added in the roots pane.
void offer(const RootsSpec&, std::vector<NewStage>& offers) {
    const QString group = QObject::tr("Roots");
    const std::complex<double> pole = std::polar(0.97, 0.131), zero = std::polar(1.0, 0.131);
    const RootsSpec none;
    offers.push_back({QObject::tr("Pole pair"), with_added(none, true, pole), group});
    offers.push_back({QObject::tr("Zero pair"), with_added(none, false, zero), group});
    offers.push_back({QObject::tr("Pole pair and zero pair"),
                      with_added(with_added(none, true, pole), false, zero), group});
    offers.push_back({QObject::tr("Single pole"), with_added(none, true, {0.9, 0}), group});
    offers.push_back({QObject::tr("Single zero"), with_added(none, false, {-1, 0}), group});
}

} // namespace syntonon
