// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/trim_strip.h"

#include "app/panes/trim/trim_panel.h"
#include "app/widgets/field.h"
#include "app/widgets/still_text.h"
#include "app/widgets/theme.h"
#include "app/widgets/words.h"
#include "core/filter/analog_cascade.h"

#include <QHBoxLayout>
#include <QLabel>
#include <QPainter>
#include <QStackedWidget>
#include <QVBoxLayout>
#include <algorithm>
#include <fmt/format.h>

namespace syntonon {
namespace {

QString text_of(const AnalogSection& s, int digits) {
    return QString::fromStdString(
        fmt::format("b {:.{}g} s²  {:.{}g} s  {:.{}g}\na {:.{}g} s²  {:.{}g} s  {:.{}g}", s.b2,
                    digits, s.b1, digits, s.b0, digits, s.a2, digits, s.a1, digits, s.a0, digits));
}
QString text_of(const Biquad& s, int digits) {
    return QString::fromStdString(fmt::format("b {:.{}g}  {:.{}g}  {:.{}g}\na 1  {:.{}g}  {:.{}g}",
                                              s.b0, digits, s.b1, digits, s.b2, digits, s.a1,
                                              digits, s.a2, digits));
}

// Can be selected and pasted into a program: with the minus sign that one reads. As many digits as
// the strip has room for beside any panel; Numbers has all of them.
template <class Section>
QString text_that_fits(const Section& section, int digits) {
    constexpr qsizetype longest = 36;
    constexpr int fewest = 3;
    QString text = text_of(section, digits);
    const auto is_too_long = [](const QString& line) { return line.size() > longest; };
    while (digits > fewest && std::ranges::any_of(text.split('\n'), is_too_long)) {
        text = text_of(section, --digits);
    }
    return text;
}

QString coefficient_text(const Filter& filter) {
    const auto analog = filter.analog_sections();
    if (filter.is_analog() && analog && !analog->sections.empty()) {
        return text_that_fits(analog->sections.front(), 6);
    }
    const auto cascade = filter.sections();
    if (!cascade || cascade->sections.empty()) {
        return tr("no sections: see Working");
    }
    return text_that_fits(cascade->sections.front(), 7);
}

} // namespace

TrimStrip::TrimStrip(Session& session, QWidget* parent)
    : QWidget(parent), session_(session), title_(new QLabel), position_(new QLabel),
      coefficients_(new StillText(2, 196)), coefficients_title_(new QLabel(tr("Coefficients"))),
      hint_(new QLabel(tr("Select a stage on the rail, or add one (Insert), to trim it here."))),
      panels_(new QStackedWidget) {
    setAttribute(Qt::WA_OpaquePaintEvent);
    setFixedHeight(88);
    auto* row = new QHBoxLayout(this);
    row->setContentsMargins(16, 12, 16, 6);
    row->setSpacing(24);
    auto* name = new QVBoxLayout;
    name->setSpacing(2);
    name->addWidget(title_);
    name->addWidget(position_);
    name->addStretch(1);
    title_->setFixedWidth(112);
    row->addLayout(name);
    panels_->addWidget(hint_);
    hint_->setAlignment(Qt::AlignLeft | Qt::AlignTop);
    row->addWidget(panels_, 1);
    auto* numbers = new QVBoxLayout;
    numbers->setSpacing(4);
    numbers->addWidget(coefficients_title_);
    numbers->addWidget(coefficients_);
    numbers->addStretch(1);
    coefficients_->setAccessibleName(tr("Coefficients of the stage"));
    row->addLayout(numbers);
    connect(&theme_notifier(), &ThemeNotifier::changed, this, &TrimStrip::restyle);
    restyle();
    connect(&session_, &Session::analysis_changed, this, &TrimStrip::refresh);
    connect(&session_, &Session::selection_changed, this, &TrimStrip::refresh);
    refresh();
}

TrimPanel* TrimStrip::panel_for(const StageSpec& spec) {
    const auto known = by_kind_.find(kind_of(spec));
    if (known != by_kind_.end()) {
        return known->second;
    }
    TrimPanel* made = make_trim_panel(spec, session_);
    panels_->addWidget(made);
    return by_kind_.emplace(kind_of(spec), made).first->second;
}

// Panels that are not shown have no say in how narrow the window may be.
void TrimStrip::show_panel(QWidget* shown) {
    for (int i = 0; i < panels_->count(); ++i) {
        QWidget* panel = panels_->widget(i);
        panel->setSizePolicy(panel == shown ? QSizePolicy::Preferred : QSizePolicy::Ignored,
                             panel->sizePolicy().verticalPolicy());
    }
    panels_->setCurrentWidget(shown);
}

TrimPanel* TrimStrip::panel() const {
    return qobject_cast<TrimPanel*>(panels_->currentWidget());
}

namespace {

// "branch 2", "the return", "8 times": where a stage stands in the one that holds it.
QString place_in_words(const Stage& holder, std::size_t chain) {
    return layout_of(holder) == ChainsLayout::side_by_side
               ? QObject::tr("branch %1").arg(chain + 1)
               : QString::fromStdString(label_of_chain(holder, chain));
}

} // namespace

void TrimStrip::refresh() {
    const Stage* stage = session_.stage();
    if (stage == nullptr) {
        coefficients_title_->hide();
        const QString name = session_.channel() != nullptr
                                 ? QString::fromStdString(session_.channel()->name)
                                 : QString();
        title_->setText(title_->fontMetrics().elidedText(name, Qt::ElideRight, title_->width()));
        title_->setToolTip(name);
        position_->clear();
        coefficients_->show_text({});
        show_panel(hint_);
        coefficients_->show();
        return;
    }
    title_->setText(title_->fontMetrics().elidedText(QString::fromStdString(title_of(*stage)),
                                                     Qt::ElideRight, title_->width()));
    title_->setToolTip(QString::fromStdString(title_of(*stage)));
    const Chain& all = session_.channel()->stages;
    const Slot slot = *slot_of(all, stage->id);
    const QString position =
        tr("stage %1 of %2").arg(slot.place + 1).arg(chain_at(all, slot)->size());
    const Stage* holder = find_stage(all, slot.holder);
    position_->setText(holder == nullptr
                           ? position
                           : tr("%1 in %2").arg(position, place_in_words(*holder, slot.chain)));
    TrimPanel* panel = panel_for(stage->spec);
    // Never beside a panel that needs all room, neither this one nor the last one: both together
    // would make the window wider.
    const bool stand_beside = !panel->needs_all_room();
    const auto show_coefficients = [this](bool shown) {
        coefficients_title_->setVisible(shown);
        coefficients_->setVisible(shown);
    };
    if (!stand_beside) {
        show_coefficients(false);
    }
    panel->show_stage(*stage);
    show_panel(panel);
    if (stand_beside) {
        show_coefficients(true);
    }
    const StageAnalysis& analysis = *session_.stage_analysis();
    coefficients_->show_text(analysis.is_waiting ? tr("being designed…")
                             : analysis.filter   ? coefficient_text(*analysis.filter)
                                                 : tr("none: see the field marked red"));
}

void TrimStrip::focus_first_field() {
    if (auto* field = panels_->currentWidget()->findChild<Field*>()) {
        field->setFocus(Qt::ShortcutFocusReason);
    }
}

void TrimStrip::restyle() {
    title_->setFont(text_font(13, QFont::DemiBold));
    QPalette held = palette();
    held.setColor(QPalette::WindowText, theme().copper);
    title_->setPalette(held);
    QPalette soft = palette();
    soft.setColor(QPalette::WindowText, theme().soft);
    for (QLabel* label : {position_, coefficients_title_, hint_}) {
        label->setFont(text_font(11));
        label->setPalette(soft);
    }
    hint_->setFont(text_font(12));
    coefficients_->set_font(text_font(11));
}

void TrimStrip::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.fillRect(rect(), theme().raised);
    painter.setPen(theme().hairline);
    painter.drawLine(0, 0, width(), 0);
}

} // namespace syntonon
