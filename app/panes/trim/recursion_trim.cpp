// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/trim/recursion_trim.h"

#include "app/panes/trim/trim_panels.h"
#include "app/widgets/theme.h"
#include "app/widgets/titled_box.h"
#include "app/widgets/words.h"
#include "core/base/number_text.h"
#include "core/exchange/read_transfer.h"

#include <QComboBox>
#include <QGridLayout>
#include <QHBoxLayout>
#include <QLabel>
#include <QLineEdit>
#include <QSettings>

namespace syntonon {
namespace {

constexpr const char* sign_setting = "recursion/feedback_added";

QString row_text(const std::vector<double>& row, FeedbackSign sign, bool is_feedback) {
    QStringList parts;
    for (std::size_t k = 0; k < row.size(); ++k) {
        const bool turned = is_feedback && k > 0 && sign == FeedbackSign::added && row[k] != 0;
        parts << QString::fromStdString(shortest_text(turned ? -row[k] : row[k]));
    }
    return parts.join(", ");
}

// A whole equation or transfer function in a line meant for one row.
bool is_whole(const QString& text) {
    return text.contains('=') || text.contains('z') || text.contains(':') || text.contains('[');
}

enum SignChoice { subtracted_choice, added_choice, other_way_choice };

} // namespace

FeedbackSign feedback_as_written() {
    return QSettings().value(sign_setting).toBool() ? FeedbackSign::added
                                                    : FeedbackSign::subtracted;
}

RecursionTrim::RecursionTrim(Session& session, QWidget* parent)
    : FieldsTrim(session, trim_fields<RecursionSpec>(), parent), b_(new QLineEdit),
      a_(new QLineEdit), sign_(new QComboBox), problem_(new QLabel) {
    auto* rows = new QWidget;
    auto* grid = new QGridLayout(rows);
    grid->setContentsMargins(0, 0, 0, 0);
    grid->setVerticalSpacing(2);
    grid->setHorizontalSpacing(8);
    int line = 0;
    for (const auto& [edit, caption, name] :
         {std::tuple{b_, tr("b, forward"), tr("Coefficients b, from x to y")},
          {a_, tr("a, back"), tr("Coefficients a, from y back to y")}}) {
        auto* label = new QLabel(caption);
        label->setFont(text_font(11));
        label->setForegroundRole(QPalette::PlaceholderText);
        edit->setObjectName("coefficients"); // how it looks
        edit->setFont(text_font(13));
        edit->setFixedHeight(25);
        edit->setAccessibleName(name);
        edit->setToolTip(tr("Numbers parted by commas or blanks; or a whole equation, y[n] = …, or "
                            "H(z) = …, typed or pasted"));
        label->setBuddy(edit);
        grid->addWidget(label, line, 0);
        grid->addWidget(edit, line++, 1);
        connect(edit, &QLineEdit::textEdited, this, [this, edit = edit] { take_typed(*edit); });
        connect(edit, &QLineEdit::editingFinished, this, [this] {
            if (problem().isEmpty()) {
                show_rows();
            }
        });
    }
    problem_->setFont(text_font(11));
    problem_->setFixedHeight(16);
    grid->addWidget(problem_, line, 0, 1, 2);
    rows->setMinimumWidth(320);
    row()->insertWidget(row()->count() - 1, rows, 100);
    sign_->addItems({tr("fed back − a"), tr("fed back + a"), tr("meant the other way")});
    sign_->insertSeparator(other_way_choice);
    sign_->setAccessibleName(tr("Sign of what is fed back"));
    sign_->setToolTip(tr("a0 y[n] = Σ b x − Σ a y, or + Σ a y: how the line a is written here. "
                         "“meant the other way”: the numbers stay, the filter becomes the one that "
                         "they are with the other sign."));
    show_sign();
    auto* sign_box = new TitledBox(tr("Sign"), sign_, 132);
    sign_->setFont(text_font(13));
    row()->insertWidget(row()->count() - 1, sign_box);
    connect(sign_, &QComboBox::activated, this, [this](int index) {
        if (index > added_choice) {
            read_the_other_way();
        } else {
            write_with(index == added_choice ? FeedbackSign::added : FeedbackSign::subtracted);
        }
    });
}

void RecursionTrim::show_sign() {
    sign_->setCurrentIndex(feedback_as_written() == FeedbackSign::added ? added_choice
                                                                        : subtracted_choice);
}

void RecursionTrim::write_with(FeedbackSign sign) {
    QSettings().setValue(sign_setting, sign == FeedbackSign::added);
    show_sign();
    show_rows();
}

// The numbers in the lines stay, and mean another filter.
void RecursionTrim::read_the_other_way() {
    Coefficients turned = shown_;
    for (std::size_t k = 1; k < turned.denominator.size(); ++k) {
        turned.denominator[k] = 0 - turned.denominator[k];
    }
    const FeedbackSign other = feedback_as_written() == FeedbackSign::added
                                   ? FeedbackSign::subtracted
                                   : FeedbackSign::added;
    take(turned);
    write_with(other);
}

QString RecursionTrim::problem() const {
    return problem_->text();
}

void RecursionTrim::take_typed(QLineEdit& edited) {
    const QString text = edited.text();
    const bool whole = is_whole(text);
    const QString all = whole ? text : "b: " + b_->text() + "\na: " + a_->text();
    const auto read = read_transfer(all.toStdString(), feedback_as_written());
    if (!read) {
        show_problem(QString::fromStdString(read.error().reason + "; " + read.error().way_out));
        return;
    }
    if (read->roots.domain == Domain::analog) {
        show_problem(tr("s is of analog filters; write z"));
        return;
    }
    take(read->coefficients);
    if (whole && problem().isEmpty()) {
        show_rows();
    }
}

void RecursionTrim::take(const Coefficients& coefficients) {
    RecursionSpec tried{coefficients.numerator, coefficients.denominator, {}};
    if (const auto designed = session().try_design(tried); !designed) {
        show_problem(QString::fromStdString(to_text(designed.error())));
        return;
    }
    show_problem({});
    shown_ = coefficients;
    edit(tr("Change the coefficients of %1"),
         session().continuing_gesture("coefficients "
                                      + QString::fromStdString(session().selection().stage)),
         [&](StageSpec& spec) { spec = tried; });
}

void RecursionTrim::show_stage(const Stage& stage) {
    FieldsTrim::show_stage(stage);
    const auto coefficients =
        coefficients_of(std::get<RecursionSpec>(*stage.spec), session().study().sample_rate_hz);
    if (!coefficients) {
        show_problem(QString::fromStdString(to_text(coefficients.error())));
        return;
    }
    const bool is_shown = coefficients->numerator == shown_.numerator
                          && coefficients->denominator == shown_.denominator;
    if (!is_shown) {
        shown_ = *coefficients;
        show_rows();
    }
}

// While one types, what one types stays.
void RecursionTrim::show_rows() {
    b_->setText(row_text(shown_.numerator, feedback_as_written(), false));
    a_->setText(row_text(shown_.denominator, feedback_as_written(), true));
    b_->setCursorPosition(0);
    a_->setCursorPosition(0);
    show_problem({});
}

void RecursionTrim::show_problem(const QString& text) {
    QPalette colours = palette();
    colours.setColor(QPalette::WindowText, theme().not_met);
    problem_->setPalette(colours);
    problem_->setText(text);
    problem_->setToolTip(text);
}

TrimPanel* make_panel(const RecursionSpec&, Session& session) {
    return new RecursionTrim(session);
}

void offer(const RecursionSpec&, std::vector<NewStage>& offers) {
    const QString group = QObject::tr("Recursion");
    offers.push_back({QObject::tr("By its coefficients"), RecursionSpec{}, group});
    for (const RecursionForm form : all_recursion_forms) {
        RecursionSpec spec;
        spec.start = RecursionStart{.form = form};
        const std::string_view title = title_of(form);
        offers.push_back(
            {QString::fromUtf8(title.data(), static_cast<qsizetype>(title.size())), spec, group});
    }
}

} // namespace syntonon
