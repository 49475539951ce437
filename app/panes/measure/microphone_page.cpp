// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/measure/microphone_page.h"

#include "app/model/measure_commands.h"
#include "app/plot/picture_scale.h"
#include "app/widgets/fitted_columns.h"
#include "app/widgets/shown_number.h"
#include "app/widgets/table_rows.h"
#include "app/widgets/theme.h"
#include "app/widgets/words.h"
#include "core/curve/import_text.h"

#include <QFileDialog>
#include <QFileInfo>
#include <QHBoxLayout>
#include <QLabel>
#include <QPainter>
#include <QPolygonF>
#include <QPushButton>
#include <QTableWidget>
#include <QVBoxLayout>
#include <algorithm>
#include <cmath>

namespace syntonon {

// The chosen microphone's level.
class MicrophonePage::Drawing : public QWidget {
public:
    Drawing() {
        setMinimumHeight(90);
        setAccessibleName(MicrophonePage::tr("What the microphone adds"));
    }
    void show_curve(const Curve* curve) {
        curve_ = curve != nullptr ? std::optional(*curve) : std::nullopt;
        update();
    }

protected:
    void paintEvent(QPaintEvent*) override {
        QPainter painter(this);
        painter.setFont(text_font(11));
        if (!curve_) {
            return;
        }
        const QRectF room = QRectF(rect()).adjusted(44, 6, -12, -22);
        constexpr double low_hz = 20, high_hz = 20'000, least_db = 2;
        const auto [low, high] = std::ranges::minmax_element(curve_->magnitude_db);
        const double top = std::ceil(std::max({least_db, std::abs(*low), std::abs(*high)}));
        const auto x_of = [&](double hz) {
            return room.left() + std::log(hz / low_hz) / std::log(high_hz / low_hz) * room.width();
        };
        const auto y_of = [&](double db) {
            return room.center().y() - db / top * room.height() / 2;
        };
        paint_scale(painter, room,
                    {{y_of(top), QStringLiteral("+") + fixed_number(top, 0)},
                     {y_of(0), tr("0 dB")},
                     {y_of(-top), fixed_number(-top, 0)}});
        paint_frequencies(painter, room, low_hz, 2 * high_hz, x_of, AcrossLines::at_each);
        QPolygonF line;
        for (std::size_t i = 0; i < curve_->frequency_hz.size(); ++i) {
            line << QPointF(x_of(curve_->frequency_hz[i]), y_of(curve_->magnitude_db[i]));
        }
        painter.setClipRect(room);
        painter.setRenderHint(QPainter::Antialiasing);
        painter.setPen(QPen(theme().ink, 1));
        painter.drawPolyline(line);
    }

private:
    std::optional<Curve> curve_;
};

MicrophonePage::MicrophonePage(Session& session, QWidget* parent)
    : QWidget(parent), session_(session), table_(new QTableWidget), drawing_(new Drawing),
      said_(new QLabel), import_(new QPushButton(tr("Import…"))),
      use_(new QPushButton(tr("Take out of the channel"))),
      none_(new QPushButton(tr("Take out none"))), remove_(new QPushButton(tr("Remove"))) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(16, 4, 16, 8);
    set_up_rows(*table_, {tr("microphone"), tr("points"), tr("phase"), tr("taken out of")});
    table_->horizontalHeader()->setStretchLastSection(true);
    title_numbers(*table_, {1});
    table_->setSelectionBehavior(QAbstractItemView::SelectRows);
    table_->setSelectionMode(QAbstractItemView::SingleSelection);
    table_->setEditTriggers(QAbstractItemView::NoEditTriggers);
    table_->setShowGrid(false);
    table_->setAccessibleName(tr("Microphones"));
    column->addWidget(table_, 1);
    column->addWidget(drawing_, 1);
    auto* row = new QHBoxLayout;
    for (QPushButton* button : {import_, use_, none_, remove_}) {
        row->addWidget(button);
    }
    row->addStretch(1);
    column->addLayout(row);
    said_->setWordWrap(true);
    said_->setFont(text_font(11));
    column->addWidget(said_);
    import_->setToolTip(tr("A text of frequency, dB and, if it has them, degrees: what the "
                           "microphone adds to what it hears"));
    use_->setToolTip(tr("What this microphone adds is taken out of all positions of the selected "
                        "channel"));
    none_->setToolTip(tr("The positions of the selected channel are as they were measured"));
    follow();
}

void MicrophonePage::follow() {
    connect(import_, &QPushButton::clicked, this, [this] {
        const QString path = QFileDialog::getOpenFileName(
            this, tr("A microphone's response"), {},
            tr("Text files (*.txt *.csv *.cal *.frd *.tsv *.dat);;All files (*)"));
        if (!path.isEmpty()) {
            import(path);
        }
    });
    const auto choose = [this](const std::string& microphone) {
        if (const Channel* channel = session_.channel()) {
            take(choose_microphone(session_, positions_of(*channel), microphone));
        }
    };
    connect(use_, &QPushButton::clicked, this, [this, choose] { choose(chosen()); });
    connect(none_, &QPushButton::clicked, this, [choose] { choose(""); });
    connect(remove_, &QPushButton::clicked, this,
            [this] { take(remove_microphone(session_, chosen())); });
    connect(table_, &QTableWidget::currentCellChanged, this,
            [this] { drawing_->show_curve(microphone_of(session_.study(), chosen())); });
    connect(&session_, &Session::study_changed, this, &MicrophonePage::refresh);
    connect(&session_, &Session::selection_changed, this, &MicrophonePage::refresh);
    connect(&theme_notifier(), &ThemeNotifier::changed, this, [this] { drawing_->update(); });
}

void MicrophonePage::showEvent(QShowEvent* event) {
    QWidget::showEvent(event);
    refresh();
}

void MicrophonePage::refresh() {
    if (isVisible()) {
        fill();
    }
}

QString MicrophonePage::said() const {
    return said_->text();
}

std::string MicrophonePage::chosen() const {
    const auto& all = session_.study().microphones;
    const auto row = static_cast<std::size_t>(std::max(table_->currentRow(), 0));
    return row < all.size() ? all[row]->id : "";
}

void MicrophonePage::take(const Expected<void>& done) {
    said_->setText(done ? QString()
                        : QStringLiteral("◇ ") + QString::fromStdString(to_text(done.error())));
}

void MicrophonePage::import(const QString& path) {
    auto read = import_text_file(path.toStdString());
    if (!read) {
        said_->setText(QStringLiteral("◇ ") + QString::fromStdString(to_text(read.error())));
        return;
    }
    read->curve.name = QFileInfo(path).completeBaseName().toStdString();
    read->curve.source = QFileInfo(path).fileName().toStdString();
    add_microphone(session_, std::move(read->curve));
    QStringList notes;
    for (const std::string& note : read->notes) {
        notes << QString::fromStdString(note);
    }
    fill();
    table_->setCurrentCell(table_->rowCount() - 1, 0);
    said_->setText(notes.join(QStringLiteral(" ")));
}

void MicrophonePage::fill() {
    if (seen_ == session_.study() && seen_channel_ == session_.selection().channel) {
        return;
    }
    seen_ = session_.study();
    seen_channel_ = session_.selection().channel;
    const Study& study = session_.study();
    const int current = std::max(table_->currentRow(), 0);
    table_->setRowCount(static_cast<int>(study.microphones.size()));
    for (int row = 0; row < table_->rowCount(); ++row) {
        const Curve& microphone = *study.microphones[static_cast<std::size_t>(row)];
        const auto users = std::ranges::count_if(study.curves, [&](const auto& curve) {
            return curve->origin && curve->origin->microphone == microphone.id;
        });
        const QString text[] = {QString::fromStdString(microphone.name),
                                QString::number(microphone.frequency_hz.size()),
                                microphone.has_phase() ? tr("with") : tr("without"),
                                users > 0 ? counted(users, "position", "positions") : tr("none")};
        for (int column = 0; column < table_->columnCount(); ++column) {
            auto* item = new QTableWidgetItem(text[column]);
            item->setToolTip(text[column]);
            item->setTextAlignment((column == 1 ? Qt::AlignRight : Qt::AlignLeft)
                                   | Qt::AlignVCenter);
            table_->setItem(row, column, item);
        }
    }
    constexpr int widest = 180;
    fit_columns(*table_, {0, 1, 2}, widest);
    table_->setCurrentCell(std::min(current, table_->rowCount() - 1), 0);
    const Channel* channel = session_.channel();
    const bool measured = channel != nullptr && !channel->measured.empty();
    const bool any = table_->rowCount() > 0;
    use_->setEnabled(any && measured);
    none_->setEnabled(measured);
    remove_->setEnabled(any);
    drawing_->show_curve(microphone_of(study, chosen()));
    if (!any) {
        said_->setText(tr("No microphone yet: import its calibration, a text of frequency and dB"));
    }
}

} // namespace syntonon
