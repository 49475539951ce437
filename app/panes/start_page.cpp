// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/start_page.h"

#include "app/widgets/theme.h"

#include <QFileInfo>
#include <QHBoxLayout>
#include <QLabel>
#include <QPainter>
#include <QPushButton>
#include <QVBoxLayout>

namespace syntonon {
namespace {

constexpr qsizetype most_recent = 5;

QLabel* soft_label(const QString& text) {
    auto* label = new QLabel(text);
    label->setFont(text_font(12));
    label->setForegroundRole(QPalette::PlaceholderText);
    label->setWordWrap(true);
    return label;
}

} // namespace

StartPage::StartPage(QWidget* parent)
    : QWidget(parent), recent_column_(new QVBoxLayout), recent_title_(nullptr) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(48, 40, 48, 32);
    column->setSpacing(10);
    auto* title = new QLabel(tr("An empty study"));
    title->setFont(text_font(17, QFont::DemiBold));
    column->addWidget(title);
    column->addWidget(soft_label(tr("Begin with any of these; the others can follow.")));
    column->addSpacing(8);
    demo_ = offer(*column, tr("Open the demo study"),
                  tr("a measured dome: three loudspeakers, goals, filters"));
    tour_ = offer(*column, tr("The first hour"),
                  tr("a tour through the demo study, in a window of its own"));
    import_ = offer(*column, tr("Import measurements…"),
                    tr("responses as text, impulse responses, recorded sweeps"));
    target_ = offer(*column, tr("State a goal"), tr("a curve to be met, and how closely"));
    stage_ = offer(*column, tr("Add a stage"), tr("a peak filter to begin with"));
    column->addSpacing(14);
    recent_title_ = soft_label(tr("Recent studies"));
    column->addWidget(recent_title_);
    column->addLayout(recent_column_);
    column->addStretch(1);
    connect(demo_, &QPushButton::clicked, this, &StartPage::demo_asked_for);
    connect(tour_, &QPushButton::clicked, this, &StartPage::tour_asked_for);
    connect(import_, &QPushButton::clicked, this, &StartPage::import_asked_for);
    connect(target_, &QPushButton::clicked, this, &StartPage::target_asked_for);
    connect(stage_, &QPushButton::clicked, this, &StartPage::stage_asked_for);
}

QPushButton* StartPage::offer(QVBoxLayout& into, const QString& title, const QString& words) {
    constexpr int button_width = 190;
    auto* row = new QHBoxLayout;
    auto* button = new QPushButton(title);
    button->setMinimumWidth(button_width);
    button->setAccessibleDescription(words);
    row->addWidget(button);
    row->addSpacing(8);
    row->addWidget(soft_label(words), 1);
    into.addLayout(row);
    return button;
}

void StartPage::show_recent(const QStringList& paths) {
    for (QPushButton* button : recent_) {
        delete button;
    }
    recent_.clear();
    for (const QString& path : paths.mid(0, most_recent)) {
        const QFileInfo file(path);
        auto* button = new QPushButton;
        button->setText(button->fontMetrics().elidedText(
            QStringLiteral("%1   %2").arg(file.fileName(), file.path()), Qt::ElideMiddle, 420));
        button->setToolTip(path);
        button->setStyleSheet(
            "QPushButton { text-align: left; border: none; background: transparent; "
            "padding: 3px 2px; } "
            "QPushButton:hover, QPushButton:focus { text-decoration: underline; }");
        button->setCursor(Qt::PointingHandCursor);
        connect(button, &QPushButton::clicked, this, [this, path] { emit study_asked_for(path); });
        recent_column_->addWidget(button, 0, Qt::AlignLeft);
        recent_.push_back(button);
    }
    recent_title_->setVisible(!recent_.empty());
}

void StartPage::paintEvent(QPaintEvent*) {
    QPainter painter(this);
    painter.fillRect(rect(), theme().panel);
}

} // namespace syntonon
