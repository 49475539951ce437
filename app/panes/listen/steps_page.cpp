// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/listen/steps_page.h"

#include "app/panes/listen/samples_table.h"
#include "app/widgets/shown_number.h"
#include "app/widgets/theme.h"
#include "core/engine/by_transform.h"

#include <QFontDatabase>
#include <QLabel>
#include <QPlainTextEdit>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

namespace syntonon {
namespace {

constexpr int shown_digits = 7; // a section fits on a line

QPlainTextEdit* plain_lines(const QString& name, int height) {
    auto* lines = new QPlainTextEdit;
    lines->setReadOnly(true);
    lines->setLineWrapMode(QPlainTextEdit::NoWrap);
    lines->setFrameShape(QFrame::NoFrame);
    lines->setAccessibleName(name);
    lines->setToolTip(name);
    lines->setMinimumHeight(height);
    QFont fixed = QFontDatabase::systemFont(QFontDatabase::FixedFont);
    fixed.setPixelSize(11);
    lines->setFont(fixed);
    return lines;
}

void show_lines(QPlainTextEdit& edit, const std::vector<std::string>& lines) {
    QStringList all;
    for (const std::string& line : lines) {
        all << QString::fromStdString(line);
    }
    if (const QString text = all.join('\n'); text != edit.toPlainText()) {
        edit.setPlainText(text);
    }
}

} // namespace

StepsPage::StepsPage(Session& session, BenchWork& bench, QWidget* parent)
    : QWidget(parent), session_(session), bench_(bench),
      equation_(plain_lines(tr("Difference equation of the chain"), 40)),
      products_(plain_lines(tr("Products that made the chosen value"), 40)),
      table_(new SamplesTable), agreement_(new QLabel) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 4, 0, 6);
    column->setSpacing(2);
    column->addWidget(equation_, 2);
    column->addWidget(table_, 4);
    column->addWidget(products_, 2);
    agreement_->setFont(text_font(11));
    agreement_->setContentsMargins(16, 0, 16, 0);
    agreement_->setWordWrap(true);
    agreement_->setForegroundRole(QPalette::PlaceholderText);
    column->addWidget(agreement_);
    connect(table_, &QTableWidget::currentCellChanged, this, &StepsPage::show_products);
    const auto mark_stale = [this] {
        stale_ = true;
        if (isVisible()) {
            refresh();
        }
    };
    connect(&bench_, &BenchWork::changed, this, mark_stale);
    connect(&session_, &Session::analysis_changed, this, mark_stale);
}

QString StepsPage::equation() const {
    return equation_->toPlainText();
}
QString StepsPage::products() const {
    return products_->toPlainText();
}
QString StepsPage::agreement() const {
    return agreement_->text();
}

void StepsPage::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    if (stale_) {
        refresh();
    }
}

void StepsPage::refresh() {
    stale_ = false;
    const auto analysis = session_.analysis();
    worked_.reset();
    show_lines(*equation_, analysis != nullptr ? difference_equations(analysis->chain, shown_digits)
                                               : std::vector<std::string>());
    const auto in = bench_.values(Track::in), out = bench_.values(Track::out);
    const std::size_t shown =
        std::min(in.size(), static_cast<std::size_t>(SamplesTable::shown_values));
    table_->show_values(
        {in.begin(), in.begin() + static_cast<std::ptrdiff_t>(shown)},
        {out.begin(), out.begin() + static_cast<std::ptrdiff_t>(std::min(out.size(), shown))});
    if (analysis != nullptr && !analysis->chain.is_analog() && shown > 0) {
        worked_ = work_through(equation_system(analysis->chain), in.first(shown));
    }
    show_products();
    agreement_->setText(compared());
}

void StepsPage::show_products() {
    const int row = std::max(0, table_->currentRow());
    if (!worked_) {
        products_->clear();
    } else if (!*worked_) {
        products_->setPlainText(QString::fromStdString(to_text(worked_->error())));
    } else {
        show_lines(*products_, products_at(**worked_, static_cast<std::size_t>(row), 6));
    }
}

// Running the sections and transforming back what the response makes of the input's transform: one
// answer by two ways.
QString StepsPage::compared() const {
    const auto analysis = session_.analysis();
    const auto in = bench_.values(Track::in), out = bench_.values(Track::out);
    constexpr std::size_t most = 1 << 16;
    if (analysis == nullptr || out.size() != in.size() || in.empty() || in.size() > most) {
        return {};
    }
    const auto transformed = run_by_transform(analysis->chain, session_.axis(), in);
    if (!transformed) {
        return tr("Not compared with the inverse transform: %1.")
            .arg(QString::fromStdString(transformed.error().reason));
    }
    double greatest = 0, apart = 0;
    for (std::size_t n = 0; n < out.size(); ++n) {
        greatest = std::max(greatest, std::abs(out[n]));
        apart = std::max(apart, std::abs(out[n] - (*transformed)[n]));
    }
    return tr("Run directly and by the inverse transform of the response: %1 of the greatest "
              "value apart at most.")
        .arg(greatest > 0 ? shown_number(apart / greatest, 2) : QStringLiteral("0"));
}

} // namespace syntonon
