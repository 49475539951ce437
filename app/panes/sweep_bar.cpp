// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/sweep_bar.h"

#include "app/model/stage_commands.h"
#include "app/plot/lane_picture.h"
#include "app/plot/lane_stack.h"
#include "app/widgets/flat_button.h"
#include "app/widgets/knob_bar.h"
#include "app/widgets/quantity_edit.h"
#include "app/widgets/shown_number.h"
#include "app/widgets/theme.h"
#include "core/goal/time_answer.h"

#include <QDir>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QLabel>
#include <QMenu>
#include <QToolButton>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>
#include <fmt/format.h>

namespace syntonon {
namespace {

constexpr int usual_count = 5, usual_frames = 60;

QString edge_text(double value) {
    return shown_number(value, 9);
}

} // namespace

SweepBar::SweepBar(Session& session, LaneStack& lanes, QWidget* parent)
    : QWidget(parent), session_(session), lanes_(lanes), sweep_(session),
      chooser_(flat_button(tr("Choose a number"), tr("The number that the knob turns"))),
      runs_(flat_button(tr("Back and forth"), tr("Let the knob turn by itself"))),
      family_(flat_button(tr("Family"), tr("Curves from end to end"))),
      close_(flat_button(tr("Close"), tr("Take the knob away"))), knob_(new KnobBar(tr("Knob"))),
      low_(make_edit(tr("Knob from"))), high_(make_edit(tr("Knob to"))),
      value_(make_edit(tr("Value on the knob"))), words_(new QLabel) {
    setFixedHeight(96);
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(46, 2, 24, 2);
    column->setSpacing(2);
    auto* head = new QHBoxLayout;
    head->setSpacing(6);
    head->addWidget(chooser_);
    head->addWidget(value_);
    head->addSpacing(10);
    head->addWidget(runs_);
    head->addWidget(family_);
    head->addStretch(1);
    head->addWidget(close_);
    column->addLayout(head);
    auto* row = new QHBoxLayout;
    row->setSpacing(6);
    row->addWidget(low_, 0, Qt::AlignTop);
    row->addWidget(knob_, 1);
    row->addWidget(high_, 0, Qt::AlignTop);
    column->addLayout(row);
    words_->setFont(text_font(11));
    words_->setForegroundRole(QPalette::PlaceholderText);
    words_->setParent(this);
    chooser_->setPopupMode(QToolButton::InstantPopup);
    chooser_->setMenu(new QMenu(chooser_));
    connect(chooser_->menu(), &QMenu::aboutToShow, this, [this] {
        chooser_->menu()->clear();
        fill_chooser(*chooser_->menu());
    });
    runs_->setCheckable(true);
    connect(runs_, &QToolButton::toggled, this, [this](bool on) { sweep_.run(on); });
    make_family_menu(*family_);
    connect(close_, &QToolButton::clicked, this, [this] {
        runs_->setChecked(false);
        emit closed();
    });
    connect(knob_, &KnobBar::taken, this, [this] {
        runs_->setChecked(false);
        gesture_ = session_.new_gesture();
    });
    connect(knob_, &KnobBar::turned, this,
            [this](double place) { sweep_.turn_to(value_at(place), gesture_); });
    connect(knob_, &KnobBar::stepped, this, [this](double place) {
        sweep_.turn_to(value_at(place), session_.continuing_gesture("knob under the lanes"));
    });
    connect(low_, &QuantityEdit::value_entered, this, [this](std::optional<double> v) {
        sweep_.set_range({v.value_or(sweep_.range().low), sweep_.range().high});
    });
    connect(high_, &QuantityEdit::value_entered, this, [this](std::optional<double> v) {
        sweep_.set_range({sweep_.range().low, v.value_or(sweep_.range().high)});
    });
    connect(value_, &QuantityEdit::value_entered, this, [this](std::optional<double> v) {
        if (v) {
            sweep_.turn_to(*v, {});
        }
    });
    connect(&sweep_, &Sweep::changed, this, &SweepBar::show_number);
    connect(&session_, &Session::analysis_changed, this, &SweepBar::show_words);
}

QuantityEdit* SweepBar::make_edit(const QString& name) {
    auto* edit = new QuantityEdit(Dimension::plain, {});
    edit->setAccessibleName(name);
    edit->setToolTip(name);
    edit->setFont(text_font(12));
    edit->setFixedSize(86, 24);
    connect(edit, &QuantityEdit::problem_found, this, &SweepBar::problem_found);
    return edit;
}

QString SweepBar::words() const {
    return words_->text();
}

// What is not seen neither turns nor looks for edges.
void SweepBar::hideEvent(QHideEvent* event) {
    QWidget::hideEvent(event);
    runs_->setChecked(false);
    sweep_.watch(false);
}

void SweepBar::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    sweep_.watch(true);
    take_something();
    show_number();
    show_words();
}

void SweepBar::take_something() {
    const Stage* stage = session_.stage();
    if (sweep_.knob() || stage == nullptr) {
        return;
    }
    const auto all = knobs_of(stage->spec);
    if (!all.empty()) {
        sweep_.take(stage->id, all.front().key);
    }
}

void SweepBar::add_numbers(QMenu& menu, const Stage& stage) {
    for (const Knob& knob : knobs_of(stage.spec)) {
        menu.addAction(QString::fromStdString(knob.caption), this,
                       [this, id = stage.id, key = knob.key] { sweep_.take(id, key); });
    }
}

// The selected stage's numbers at once, the others' in menus of their own.
void SweepBar::fill_chooser(QMenu& menu) {
    const Stage* selected = session_.stage();
    if (selected != nullptr) {
        add_numbers(menu, *selected);
        menu.addSeparator();
    }
    if (session_.channel() == nullptr) {
        return;
    }
    visit_stages(session_.channel()->stages, [&](const Stage& stage, const Slot&, int) {
        if ((selected == nullptr || stage.id != selected->id) && !knobs_of(stage.spec).empty()) {
            add_numbers(*menu.addMenu(spoken_name(stage)), stage);
        }
    });
}

void SweepBar::make_family_menu(QToolButton& button) {
    button.setPopupMode(QToolButton::InstantPopup);
    auto* menu = new QMenu(&button);
    button.setMenu(menu);
    for (const int count : {3, usual_count, 9}) {
        menu->addAction(tr("Freeze %1 takes").arg(count), this,
                        [this, count] { sweep_.freeze_family(count); });
    }
    menu->addSeparator();
    const auto save = [this](const QString& title, const QString& filter) {
        const QString path = QFileDialog::getSaveFileName(this, title, {}, filter);
        if (path.isEmpty()) {
            return;
        }
        if (const auto done = save_family(path, usual_count); !done) {
            emit problem_found(QString::fromStdString(to_text(done.error())));
        }
    };
    menu->addAction(tr("Save as a picture…"), this, [save] {
        save(tr("The family as a picture"), tr("Pictures (*.png *.svg *.pdf)"));
    });
    menu->addAction(tr("Save as numbers…"), this,
                    [save] { save(tr("The family as numbers"), tr("Tables (*.csv)")); });
    menu->addAction(tr("Animate into a folder of PNGs…"), this, [this] {
        const QString folder =
            QFileDialog::getExistingDirectory(this, tr("Folder for the pictures"));
        if (folder.isEmpty()) {
            return;
        }
        if (const auto done = animate_into(folder, usual_frames); !done) {
            emit problem_found(QString::fromStdString(to_text(done.error())));
        }
    });
}

Expected<void> SweepBar::save_family(const QString& path, int count) {
    Expected<void> done;
    sweep_.with_family(count, [&] { done = save_lanes(lanes_, std::nullopt, path); });
    return done;
}

Expected<void> SweepBar::animate_into(const QString& folder, int frames) {
    Expected<void> done;
    sweep_.with_each(frames, [&](int index, double) {
        const QString path = QDir(folder).filePath(
            QString::fromStdString(fmt::format("sweep-{:04}.png", index + 1)));
        done = save_lanes(lanes_, std::nullopt, path);
        return done.has_value();
    });
    return done;
}

double SweepBar::place_of(double value) const {
    return sweep_.goes_by_ratio() ? std::log10(std::max(value, 1e-300)) : value;
}

double SweepBar::value_at(double place) const {
    return sweep_.goes_by_ratio() ? std::pow(10, place) : place;
}

void SweepBar::show_number() {
    const auto now = sweep_.knob();
    for (QWidget* part :
         std::initializer_list<QWidget*>{knob_, low_, high_, value_, runs_, family_}) {
        part->setEnabled(now.has_value());
    }
    chooser_->setText(now ? sweep_.name() : tr("Choose a number"));
    if (!now) {
        runs_->setChecked(false);
        return;
    }
    const QString unit = QString::fromStdString(now->unit);
    for (QuantityEdit* edit : {low_, high_, value_}) {
        edit->set_unit(unit);
        edit->set_sample_rate(session_.study().sample_rate_hz);
    }
    low_->show_value(sweep_.range().low);
    high_->show_value(sweep_.range().high);
    value_->show_value(now->value);
    std::vector<KnobBar::Mark> marks;
    for (const StabilityEdge& edge : sweep_.edges()) {
        marks.push_back({place_of(edge.value),
                         (edge.stable_below ? tr("unstable from %1") : tr("unstable up to %1"))
                             .arg(edge_text(edge.value))});
    }
    knob_->set_range(place_of(sweep_.range().low), place_of(sweep_.range().high),
                     now->steps == FieldSteps::whole);
    knob_->set_marks(std::move(marks));
    knob_->show_value(place_of(now->value));
}

// What the step response does: how one trims short recursions by eye.
void SweepBar::show_words() {
    const auto analysis = session_.analysis();
    if (!isVisible() || analysis == nullptr) {
        return;
    }
    constexpr double most_samples = 1 << 16, all_of_it_db = 140, within = 0.02;
    const Axis axis = session_.axis();
    const auto radius = analysis->chain.slowest_pole_radius(axis.sample_rate_hz);
    QString text;
    if (!analysis->chain.is_stable()) {
        text = tr("step: grows without end");
    } else if (radius && decay_samples(*radius, all_of_it_db) < most_samples) {
        if (const auto answer = settled_impulse_response(analysis->chain, axis)) {
            const auto over = overshoot(answer->impulse);
            const double settles = settling_samples(answer->impulse, within) / answer->rate_hz;
            text = over ? tr("step: overshoot %1 %, settles in %2 ms")
                              .arg(shown_number(*over * 100, 3), shown_number(settles * 1e3, 3))
                        : tr("step: falls back to 0, settles in %1 ms")
                              .arg(shown_number(settles * 1e3, 3));
        }
    } else {
        text = tr("step: rings for long");
    }
    words_->setText(text);
    words_->adjustSize();
    words_->move(width() - words_->width() - 24, height() - words_->height() - 2);
}

} // namespace syntonon
