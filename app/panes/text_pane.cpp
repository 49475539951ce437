// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/text_pane.h"

#include "app/model/stage_commands.h"
#include "app/panes/trim/recursion_trim.h"
#include "app/widgets/theme.h"
#include "app/widgets/words.h"
#include "core/exchange/read_transfer.h"
#include "core/study/kinds.h"

#include <QClipboard>
#include <QComboBox>
#include <QGuiApplication>
#include <QHBoxLayout>
#include <QLabel>
#include <QMenu>
#include <QPlainTextEdit>
#include <QScopedValueRollback>
#include <QTextBlock>
#include <QToolButton>
#include <QVBoxLayout>

namespace syntonon {
namespace {

// What was read as a stage of the same kind as the one that is edited.
Expected<StageSpec> spec_of(const ReadTransfer& read, const StageSpec& now, const Axis& axis) {
    const bool has_variable = !read.roots.zeros.empty() || !read.roots.poles.empty()
                              || !read.more_zeros.empty() || !read.more_poles.empty()
                              || read.roots.delay_samples > 0;
    const bool is_analog = read.roots.domain == Domain::analog;
    if (has_variable && is_analog != axis.is_analog()) {
        return refuse("", is_analog ? "s is of analog channels" : "z is of sampled channels",
                      is_analog ? "write z" : "write s");
    }
    if (std::holds_alternative<RecursionSpec>(*now)) {
        return StageSpec(
            RecursionSpec{read.coefficients.numerator, read.coefficients.denominator, {}});
    }
    if (read.roots.delay_samples > 0) {
        return refuse("", "roots cannot hold a delay",
                      "put a delay stage before it, or open the stage into a recursion");
    }
    return all_roots(read).map([](const Roots& roots) {
        return StageSpec(RootsSpec{roots.zeros, roots.poles, roots.gain});
    });
}

enum Of { selected_stage, whole_chain, new_stage };

// What was read where no stage is: its coefficients as they were written, or else its roots.
Expected<StageSpec> new_spec_of(const ReadTransfer& read, const Axis& axis) {
    const bool has_coefficients = !axis.is_analog() && !read.coefficients.numerator.empty();
    return spec_of(read, has_coefficients ? StageSpec(RecursionSpec{}) : StageSpec(RootsSpec{}),
                   axis);
}

} // namespace

TextPane::TextPane(Session& session, QWidget* parent)
    : QWidget(parent), session_(session), of_(new QComboBox), form_(new QComboBox),
      text_(new QPlainTextEdit), words_(new QLabel) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(16, 4, 16, 6);
    column->setSpacing(4);
    auto* row = new QHBoxLayout;
    row->setSpacing(8);
    of_->addItems({tr("Selected stage"), tr("Whole chain"), tr("A new stage")});
    of_->setAccessibleName(tr("Whose transfer function"));
    form_->addItems(
        {tr("Sections"), tr("Zeros and poles"), tr("Polynomials"), tr("Difference equation")});
    form_->setCurrentIndex(static_cast<int>(TransferForm::polynomial));
    form_->setAccessibleName(tr("Written as"));
    auto* copy = new QToolButton;
    copy->setText(tr("Copy"));
    copy->setPopupMode(QToolButton::InstantPopup);
    copy->setAutoRaise(true);
    copy->setMenu(new QMenu(copy));
    for (const auto& [title, dialect] :
         {std::pair{tr("As plain text"), TransferDialect::plain},
          {tr("As TeX"), TransferDialect::tex},
          {tr("As a C expression"), TransferDialect::c},
          {tr("As lines of C, of a sample"), TransferDialect::c_lines}}) {
        copy->menu()->addAction(title, this, [this, dialect = dialect] { copy_as(dialect); });
    }
    row->addWidget(of_);
    row->addWidget(form_);
    row->addStretch(1);
    row->addWidget(copy);
    column->addLayout(row);
    column->addWidget(text_, 1);
    column->addWidget(words_);
    text_->setFont(text_font(12));
    text_->setAccessibleName(tr("Transfer function, to be edited"));
    text_->setTabChangesFocus(true);
    text_->setPlaceholderText(tr("A transfer function or a difference equation that is typed here "
                                 "becomes a stage:\ny[n] = x[n] + 0.8 x[n-100]"));
    text_->setMinimumHeight(40);
    words_->setFont(text_font(11));
    words_->setWordWrap(true);
    connect(of_, &QComboBox::activated, this, &TextPane::write_text);
    connect(form_, &QComboBox::activated, this, &TextPane::write_text);
    connect(text_, &QPlainTextEdit::textChanged, this, [this] {
        if (!is_writing_) {
            take_typed();
        }
    });
    connect(&session_, &Session::analysis_changed, this, &TextPane::refresh);
    connect(&session_, &Session::selection_changed, this, &TextPane::refresh);
}

QString TextPane::problem() const {
    return words_->text();
}

bool TextPane::is_of_chain() const {
    return of_->currentIndex() == whole_chain;
}

bool TextPane::is_of_new_stage() const {
    const bool wants_one = of_->currentIndex() == new_stage || session_.stage() == nullptr;
    return !is_of_chain() && wants_one && session_.channel() != nullptr;
}

bool TextPane::can_edit() const {
    if (is_of_new_stage()) {
        return true;
    }
    const Stage* stage = session_.stage();
    return !is_of_chain() && stage != nullptr
           && (std::holds_alternative<RootsSpec>(*stage->spec)
               || std::holds_alternative<RecursionSpec>(*stage->spec));
}

Expected<std::string> TextPane::written(TransferDialect dialect) const {
    const auto analysis = session_.analysis();
    if (analysis == nullptr) {
        return refuse("", "no channel is selected", "add one");
    }
    const auto form = static_cast<TransferForm>(form_->currentIndex());
    if (is_of_new_stage()) {
        return std::string();
    }
    if (is_of_chain()) {
        return transfer_text(analysis->chain, form, dialect);
    }
    const StageAnalysis* stage = session_.stage_analysis();
    if (stage == nullptr || !stage->filter) {
        return stage == nullptr ? refuse("", "the stage has no filter", "mend it")
                                : tl::unexpected(stage->filter.error());
    }
    // Coefficients as they were typed, not as they come out of their roots.
    if (const auto* recursion = std::get_if<RecursionSpec>(&*session_.stage()->spec)) {
        const auto c = coefficients_of(*recursion, session_.study().sample_rate_hz);
        return c ? transfer_text(*stage->filter, form, dialect, &*c) : tl::unexpected(c.error());
    }
    return transfer_text(*stage->filter, form, dialect);
}

void TextPane::copy_as(TransferDialect dialect) {
    const auto text = written(dialect);
    if (text) {
        QGuiApplication::clipboard()->setText(QString::fromStdString(*text));
        show_problem({});
    } else {
        show_problem(QString::fromStdString(to_text(text.error())));
    }
}

void TextPane::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    refresh();
}

void TextPane::refresh() {
    const bool is_written =
        shown_ == session_.analysis() && typed_stage_ == session_.selection().stage;
    if (!isVisible() || is_written || is_writing_) {
        return;
    }
    const Stage* stage = session_.stage();
    const bool is_same = stage == nullptr ? is_of_new_stage() && typed_stage_.empty()
                                          : typed_stage_ == stage->id && typed_ == stage->spec;
    const bool as_typed = is_same && can_edit() && text_->hasFocus();
    shown_ = session_.analysis();
    if (!as_typed) {
        write_text();
    }
}

void TextPane::write_text() {
    shown_ = session_.analysis();
    const QScopedValueRollback writing(is_writing_, true);
    const auto text = written(TransferDialect::plain);
    const QString shown = text ? QString::fromStdString(*text) : QString();
    if (shown != text_->toPlainText()) {
        text_->setPlainText(shown);
    }
    text_->setReadOnly(!can_edit());
    mark(nullptr);
    typed_stage_ = session_.selection().stage;
    if (const Stage* stage = session_.stage()) {
        typed_ = stage->spec;
    }
    if (!text) {
        show_problem(QString::fromStdString(to_text(text.error())));
    } else {
        show_problem({});
        words_->setText(can_edit() ? QString()
                        : is_of_chain()
                            ? QString()
                            : tr("To edit it here, open the stage into roots or a recursion "
                                 "(Stage menu)."));
    }
}

void TextPane::take_typed() {
    if (!can_edit()) {
        return;
    }
    const QByteArray bytes = text_->toPlainText().toUtf8();
    const auto read = read_transfer({bytes.constData(), static_cast<std::size_t>(bytes.size())},
                                    feedback_as_written());
    if (!read) {
        mark(&read.error());
        show_problem(QString::fromStdString(read.error().reason + "; " + read.error().way_out));
        return;
    }
    mark(nullptr);
    if (is_of_new_stage()) {
        add_typed(*read);
        return;
    }
    const Stage& stage = *session_.stage();
    const auto spec = spec_of(*read, stage.spec, session_.axis());
    const auto tried = spec ? session_.try_design(*spec) : tl::unexpected(spec.error());
    if (!tried) {
        show_problem(QString::fromStdString(to_text(tried.error())));
        return;
    }
    show_problem({});
    typed_ = *spec;
    typed_stage_ = stage.id;
    session_.edit_stage(
        tr("Rewrite %1").arg(spoken_name(stage)), [&](Stage& s) { s.spec = *spec; },
        session_.continuing_gesture("rewrite " + QString::fromStdString(stage.id)));
}

void TextPane::add_typed(const ReadTransfer& read) {
    const auto spec = new_spec_of(read, session_.axis());
    const auto tried = spec ? session_.try_design(*spec) : tl::unexpected(spec.error());
    if (!tried) {
        show_problem(QString::fromStdString(to_text(tried.error())));
        return;
    }
    show_problem({});
    const QScopedValueRollback keeps_the_text(is_writing_, true);
    add_stage(session_, *spec);
    of_->setCurrentIndex(selected_stage); // that is it now
    typed_ = *spec;
    typed_stage_ = session_.selection().stage;
    shown_ = session_.analysis();
    if (text_->toPlainText().contains('[')) { // as it will be written from now on
        form_->setCurrentIndex(static_cast<int>(TransferForm::equation));
    }
}

void TextPane::show_problem(const QString& text) {
    QPalette colours = palette();
    colours.setColor(QPalette::WindowText, text.isEmpty() ? theme().soft : theme().not_met);
    words_->setPalette(colours);
    words_->setText(text);
}

// A wavy line below what could not be read.
void TextPane::mark(const Misread* place) {
    QList<QTextEdit::ExtraSelection> marks;
    if (place != nullptr) {
        const QByteArray bytes = text_->toPlainText().toUtf8();
        const auto characters = [&](std::size_t count) {
            return static_cast<int>(
                QString::fromUtf8(bytes.left(static_cast<qsizetype>(count))).size());
        };
        const int end_of_text = static_cast<int>(text_->toPlainText().size());
        int from = std::min(characters(place->at), end_of_text);
        const int to = std::clamp(characters(place->at + place->length), from, end_of_text);
        from = from == to ? std::max(0, from - 1) : from; // at the end: the last character
        QTextEdit::ExtraSelection selection;
        selection.cursor = text_->textCursor();
        selection.cursor.setPosition(from);
        selection.cursor.setPosition(to, QTextCursor::KeepAnchor);
        selection.format.setUnderlineStyle(QTextCharFormat::WaveUnderline);
        selection.format.setUnderlineColor(theme().not_met);
        QColor wash = theme().not_met;
        wash.setAlphaF(0.14F);
        selection.format.setBackground(wash);
        marks.append(selection);
    }
    text_->setExtraSelections(marks);
}

} // namespace syntonon
