// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/desks/measure_desk.h"

#include "app/panes/companion.h"
#include "app/panes/measure/curves_pane.h"
#include "app/panes/measure/decay_pages.h"
#include "app/panes/measure/harmonics_page.h"
#include "app/panes/measure/impulse_pane.h"
#include "app/panes/measure/levels_pane.h"
#include "app/panes/measure/microphone_page.h"
#include "app/panes/measure/positions_pane.h"
#include "app/panes/measure/sweep_page.h"
#include "app/plot/lane_stack.h"
#include "app/plot/measured_curves.h"
#include "app/widgets/menu_button.h"

#include <QActionGroup>
#include <QHBoxLayout>
#include <QKeyEvent>
#include <QMenu>
#include <QSplitter>
#include <QToolButton>
#include <QVBoxLayout>
#include <QWheelEvent>
#include <algorithm>
#include <array>

namespace syntonon {
namespace {

QAction* offer(QMenu& menu, QActionGroup& group, const QString& text, bool chosen) {
    QAction* action = menu.addAction(text);
    action->setCheckable(true);
    action->setChecked(chosen);
    group.addAction(action);
    return action;
}

} // namespace

MeasureDesk::MeasureDesk(Session& session, QObject* parent)
    : QObject(parent), session_(session),
      lanes_(new LaneStack(session,
                           [this](LanePlot& plot) {
                               return std::make_unique<MeasuredCurves>(plot, session_, look_);
                           })),
      impulse_(new ImpulsePane(session)), middle_(new QSplitter(Qt::Vertical)),
      smoothing_(menu_button(tr("Smoothing"),
                             tr("How the curves are smoothed to be looked at: the wheel, or Up and "
                                "Down, turns it coarser and finer"))),
      phase_(menu_button(tr("Phase"), tr("Which part of the phase is drawn"))),
      positions_(new PositionsPane(session, *lanes_)), curves_(new CurvesPane(session)),
      levels_(new LevelsPane(session)), sweep_(new SweepPage(session)),
      upper_(new Companion(tr("Upper companion"))), lower_(new Companion(tr("Lower companion"))) {
    lanes_->setAccessibleName(tr("Lanes: measured level, phase and delay"));
    auto* upper_middle = new QWidget;
    auto* column = new QVBoxLayout(upper_middle);
    column->setContentsMargins(0, 0, 0, 0);
    column->setSpacing(0);
    column->addWidget(look_row());
    column->addWidget(lanes_, 1);
    middle_->addWidget(upper_middle);
    middle_->addWidget(impulse_);
    middle_->setSizes({470, 230});
    middle_->setChildrenCollapsible(false);
    upper_->add_page(tr("Curves"), curves_);
    upper_->add_page(tr("Levels"), levels_);
    upper_->add_page(tr("Sweep"), sweep_);
    upper_->add_page(tr("Microphone"), new MicrophonePage(session));
    lower_->add_page(tr("Decay"), new DecayPage(session));
    lower_->add_page(tr("Energy"), new EnergyPage(session));
    lower_->add_page(tr("Waterfall"), new WaterfallPage(session));
    lower_->add_page(tr("Spectrogram"), new ImpulseSpectrogramPage(session));
    lower_->add_page(tr("Harmonics"), new HarmonicsPage(session));
    connect(&look_, &MeasureView::changed, this, [this] {
        smoothing_->setText(tr("Smoothing: %1").arg(name_of(look_.smoothing())));
        lanes_->choose_curves(lanes_->curves().choices());
    });
}

QWidget* MeasureDesk::look_row() {
    auto* row = new QWidget;
    auto* line = new QHBoxLayout(row);
    line->setContentsMargins(50, 2, 12, 0);
    line->addWidget(smoothing_);
    line->addWidget(phase_);
    line->addStretch(1);
    offer_smoothing();
    offer_phase();
    smoothing_->setText(tr("Smoothing: %1").arg(name_of(look_.smoothing())));
    phase_->setText(tr("Phase: as measured"));
    return row;
}

void MeasureDesk::offer_smoothing() {
    QMenu& menu = *smoothing_->menu();
    smoothings_ = new QActionGroup(&menu);
    smoothing_->installEventFilter(this);
    std::vector<Smoothing> all = {{}};
    for (const int part : {48, 24, 12, 6, 3, 2, 1}) {
        all.push_back({SmoothingKind::octave, 1.0 / part, false});
    }
    for (const SmoothingKind kind :
         {SmoothingKind::by_frequency, SmoothingKind::erb, SmoothingKind::psychoacoustic}) {
        all.push_back({kind, 0, false});
    }
    for (const Smoothing& smoothing : all) {
        connect(offer(menu, *smoothings_, name_of(smoothing), smoothing.is_none()),
                &QAction::triggered, this, [this, smoothing] {
                    Smoothing chosen = smoothing;
                    chosen.of_vectors = look_.smoothing().of_vectors && !chosen.is_none();
                    look_.smooth(chosen);
                });
    }
    menu.addSeparator();
    QAction* vectors = menu.addAction(tr("Level and phase together (complex)"));
    vectors->setCheckable(true);
    vectors->setToolTip(
        tr("The level, too, is that of the mean vector: what differs in phase within "
           "the window cancels"));
    connect(vectors, &QAction::triggered, this, [this](bool on) {
        Smoothing chosen = look_.smoothing();
        chosen.of_vectors = on;
        look_.smooth(chosen);
    });
}

void MeasureDesk::turn_smoothing(int steps) {
    const QList<QAction*> all = smoothings_->actions();
    const auto now = all.indexOf(smoothings_->checkedAction());
    all[std::clamp<qsizetype>(now + steps, 0, all.size() - 1)]->trigger();
}

// As a dial: a step at each notch of the wheel.
bool MeasureDesk::eventFilter(QObject* watched, QEvent* event) {
    if (event->type() == QEvent::Wheel) {
        constexpr int notch = 120; // eighths of a degree
        turned_ += static_cast<QWheelEvent*>(event)->angleDelta().y();
        turn_smoothing(turned_ / notch);
        turned_ %= notch;
        return true;
    }
    if (event->type() == QEvent::KeyPress) {
        const int key = static_cast<QKeyEvent*>(event)->key();
        if (key == Qt::Key_Up || key == Qt::Key_Down) {
            turn_smoothing(key == Qt::Key_Up ? 1 : -1);
            return true;
        }
    }
    return QObject::eventFilter(watched, event);
}

void MeasureDesk::offer_phase() {
    QMenu& menu = *phase_->menu();
    auto* kinds = new QActionGroup(&menu);
    const std::array<std::pair<PhaseShown, QString>, 3> all = {
        {{PhaseShown::whole, tr("as measured")},
         {PhaseShown::minimum, tr("minimum: what the level says already")},
         {PhaseShown::excess, tr("excess: what is left")}}};
    for (const auto& [phase, text] : all) {
        connect(offer(menu, *kinds, text, phase == PhaseShown::whole), &QAction::triggered, this,
                [this, phase = phase, text = text] {
                    phase_->setText(tr("Phase: %1").arg(text.section(':', 0, 0)));
                    look_.show_phase(phase);
                });
    }
}

const SweepPlan& MeasureDesk::sweep() const {
    return sweep_->plan();
}

void MeasureDesk::prepare() {
    positions_->fill();
    curves_->fill();
    impulse_->fill();
}

DeskParts MeasureDesk::parts() const {
    DeskParts parts;
    parts.left = positions_;
    parts.middle = middle_;
    parts.upper = upper_;
    parts.lower = lower_;
    parts.columns = {300, 520, 460};
    parts.rows = {300, 340};
    return parts;
}

bool MeasureDesk::is_busy() const {
    const auto* picture = dynamic_cast<const ImpulsePicture*>(lower_->page(lower_->shown_page()));
    return positions_->is_busy() || (picture != nullptr && picture->is_busy());
}

} // namespace syntonon
