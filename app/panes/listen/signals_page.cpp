// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/panes/listen/signals_page.h"

#include "app/panes/listen/ask_sound_file.h"
#include "app/panes/listen/recipe_form.h"
#include "app/panes/listen/track_colour.h"
#include "app/widgets/flat_button.h"
#include "app/widgets/menu_button.h"
#include "app/widgets/shown_number.h"
#include "app/widgets/table_rows.h"
#include "app/widgets/words.h"

#include <QEvent>
#include <QFileDialog>
#include <QHBoxLayout>
#include <QHeaderView>
#include <QLabel>
#include <QMenu>
#include <QScrollArea>
#include <QTableWidget>
#include <QToolButton>
#include <QVBoxLayout>
#include <algorithm>
#include <array>
#include <utility>

namespace syntonon {
namespace {

constexpr int sent_column = 0, reference_column = 1, name_column = 2, what_column = 3;
constexpr int id_role = Qt::UserRole;

QString described(const Signal& signal) {
    const QString title = QString::fromUtf8(title_of(signal.recipe).data(),
                                            qsizetype(title_of(signal.recipe).size()));
    const QString length = signal.length.unit == LengthUnit::samples
                               ? SignalsPage::tr("%1 samples").arg(signal.length.value)
                               : SignalsPage::tr("%1 s").arg(signal.length.value);
    const QString summary = shown_words(summary_of(signal.recipe));
    return title + QStringLiteral(" · ") + length
           + (summary.isEmpty() ? QString() : QStringLiteral(" · ") + summary);
}

} // namespace

SignalsPage::SignalsPage(Session& session, BenchWork& bench,
                         std::function<std::filesystem::path()> folder, QWidget* parent)
    : QWidget(parent), session_(session), bench_(bench), folder_(std::move(folder)),
      table_(new QTableWidget), form_(new RecipeForm(session)),
      add_(menu_button(tr("Add a signal"), tr("Add a signal and send it through the chain"))),
      duplicate_(flat_button(tr("Duplicate"), tr("Duplicate the signal"))),
      remove_(flat_button(tr("Remove"), tr("Remove the signal"))),
      save_(menu_button(tr("Save"), tr("Save a signal as a sound file"))), remarks_(new QLabel),
      offer_(new QWidget), scroll_(new QScrollArea) {
    auto* column = new QVBoxLayout(this);
    column->setContentsMargins(0, 4, 0, 0);
    column->setSpacing(2);
    auto* head = new QHBoxLayout;
    head->setContentsMargins(12, 0, 12, 0);
    for (QToolButton* button : {add_, duplicate_, remove_, save_}) {
        head->addWidget(button);
    }
    head->addStretch(1);
    column->addLayout(head);
    set_up_table();
    column->addWidget(table_, 2);
    remarks_->setWordWrap(true);
    remarks_->setContentsMargins(16, 0, 16, 0);
    remarks_->setFont(text_font(11));
    remarks_->hide();
    column->addWidget(remarks_);
    set_up_offer();
    column->addWidget(offer_);
    scroll_->setWidget(form_);
    form_->installEventFilter(this);
    table_->installEventFilter(this);
    scroll_->setWidgetResizable(true);
    scroll_->setFrameShape(QFrame::NoFrame);
    column->addWidget(scroll_, 3);

    follow_buttons();
    connect(&session_, &Session::study_changed, this, &SignalsPage::refresh);
    connect(&session_, &Session::selection_changed, this, [this] {
        shown_ = session_.channel() != nullptr ? session_.channel()->bench.signal : std::string();
        refresh();
    });
    connect(&bench_, &BenchWork::changed, this, [this] {
        if (offer_->isHidden()) {
            say(bench_.remarks().join(' '));
        }
    });
    refresh();
}

void SignalsPage::set_up_table() {
    set_up_rows(*table_, {tr("send"), tr("against"), tr("signal"), tr("what it is")}, 20);
    set_up_reading(*table_, beside_page);
    table_->setSelectionBehavior(QAbstractItemView::SelectRows);
    table_->setSelectionMode(QAbstractItemView::SingleSelection);
    table_->horizontalHeader()->setSectionResizeMode(QHeaderView::ResizeToContents);
    table_->horizontalHeader()->setSectionResizeMode(what_column, QHeaderView::Stretch);
    table_->setAccessibleName(tr("Signals of the study"));
    table_->setToolTip(tr("A click in the first columns sends a signal through the chain, or holds "
                          "the output against it"));
    table_->setTextElideMode(Qt::ElideRight);
    constexpr int four_rows = 108;
    table_->setMinimumHeight(four_rows);
}

// To convert a file of another rate, or to leave it.
void SignalsPage::set_up_offer() {
    auto* asks = new QHBoxLayout(offer_);
    asks->setContentsMargins(16, 0, 16, 0);
    auto* convert = flat_button(tr("Convert it"), tr("Convert the file to the study's rate"));
    auto* leave = flat_button(tr("Leave it"), tr("Do not add the file"));
    asks->addWidget(convert);
    asks->addWidget(leave);
    asks->addStretch(1);
    connect(convert, &QToolButton::clicked, this, [this] {
        offer_->hide();
        if (asked_) {
            add_sound(session_, *std::exchange(asked_, {}), folder_(), true);
        }
    });
    connect(leave, &QToolButton::clicked, this, [this] {
        offer_->hide();
        say({});
    });
    offer_->hide();
}

void SignalsPage::follow_buttons() {
    connect(add_->menu(), &QMenu::aboutToShow, this, &SignalsPage::fill_menu);
    connect(save_->menu(), &QMenu::aboutToShow, this, &SignalsPage::fill_save_menu);
    connect(&saving_, &SaveSound::reported, this, [this] { say(saving_.report()); });
    connect(duplicate_, &QToolButton::clicked, this,
            [this] { duplicate_signal(session_, shown_); });
    connect(remove_, &QToolButton::clicked, this, [this] { remove_signal(session_, shown_); });
    connect(table_, &QTableWidget::cellClicked, this, &SignalsPage::take_click);
    connect(table_, &QTableWidget::cellActivated, this, &SignalsPage::take_click);
    connect(table_, &QTableWidget::currentCellChanged, this, [this](int row) {
        if (!filling_) {
            shown_ = id_of(row);
            refresh();
        }
    });
}

void SignalsPage::say(const QString& text) {
    remarks_->setText(text);
    remarks_->setVisible(!text.isEmpty());
}

std::string SignalsPage::id_of(int row) const {
    const QTableWidgetItem* item = table_->item(row, name_column);
    return item != nullptr ? item->data(id_role).toString().toStdString() : std::string();
}

void SignalsPage::fill_row(int row, const QString& name, const QString& what,
                           const std::string& id) {
    const Channel* channel = session_.channel();
    const bool is_sent = channel != nullptr && channel->bench.signal == id;
    const bool is_reference = channel != nullptr && !id.empty() && channel->bench.reference == id;
    const auto put = [&](int column, const QString& text, Qt::Alignment where) {
        if (table_->item(row, column) == nullptr) {
            table_->setItem(row, column, new QTableWidgetItem);
        }
        QTableWidgetItem* item = table_->item(row, column);
        item->setText(text);
        item->setTextAlignment(where);
        item->setData(id_role, QString::fromStdString(id));
    };
    const QString chosen = QStringLiteral("●"), not_chosen = QStringLiteral("○");
    put(sent_column, is_sent ? chosen : not_chosen, Qt::AlignCenter);
    put(reference_column,
        id.empty()     ? QString()
        : is_reference ? chosen
                       : not_chosen,
        Qt::AlignCenter);
    put(name_column, name, Qt::AlignLeft | Qt::AlignVCenter);
    put(what_column, what, Qt::AlignLeft | Qt::AlignVCenter);
    table_->item(row, what_column)->setToolTip(what);
}

void SignalsPage::refresh() {
    filling_ = true;
    const Study& study = session_.study();
    const bool is_new = signal_of(study, shown_) == nullptr;
    const Channel* channel = session_.channel();
    // What is sent is looked at, unless one has chosen another.
    if (is_new
        || (channel != nullptr
            && static_cast<int>(study.test_signals.size()) >= table_->rowCount())) {
        shown_ = channel != nullptr ? channel->bench.signal : std::string();
    }
    table_->setRowCount(1 + static_cast<int>(study.test_signals.size()));
    fill_row(0, tr("Impulse"), described(signal_of_itself()), {});
    int chosen = 0;
    for (std::size_t i = 0; i < study.test_signals.size(); ++i) {
        const Signal& signal = *study.test_signals[i];
        fill_row(static_cast<int>(i) + 1, QString::fromStdString(signal.name), described(signal),
                 signal.id);
        chosen = signal.id == shown_ ? static_cast<int>(i) + 1 : chosen;
    }
    table_->setCurrentCell(chosen, name_column);
    filling_ = false;
    show_form();
    const bool is_there = signal_of(study, shown_) != nullptr;
    duplicate_->setEnabled(is_there);
    remove_->setEnabled(is_there);
}

void SignalsPage::take_click(int row, int column) {
    const std::string id = id_of(row);
    const Channel* channel = session_.channel();
    if (channel == nullptr) {
        return;
    }
    shown_ = id;
    if (column == sent_column) {
        if (channel->bench.signal != id) {
            send_signal(session_, id);
        }
    } else if (column == reference_column && !id.empty()) {
        hold_against(session_, channel->bench.reference == id ? std::string() : id);
    }
    show_form();
}

void SignalsPage::show_form() {
    form_->show_signal(shown_);
    scroll_->setVisible(!form_->shown().empty());
}

// As high as it needs to be, so that the list has the rest. Rows that have just been made count
// from their first layout on.
bool SignalsPage::eventFilter(QObject* watched, QEvent* event) {
    if (watched == form_ && event->type() == QEvent::LayoutRequest) {
        constexpr int some_of_it = 100;
        const int whole = form_->sizeHint().height() + 2;
        scroll_->setMaximumHeight(whole);
        scroll_->setMinimumHeight(std::min(whole, some_of_it));
    } else if (watched == table_ && event->type() == QEvent::Resize) {
        table_->scrollToItem(table_->currentItem());
    }
    return QWidget::eventFilter(watched, event);
}

void SignalsPage::add(const Recipe& recipe) {
    add_signal(session_, recipe);
}

void SignalsPage::fill_menu() {
    QMenu& menu = *add_->menu();
    menu.clear();
    for (const Recipe& recipe : all_recipes()) {
        if (std::holds_alternative<FileRecipe>(recipe)) {
            menu.addAction(tr("Sound file…"), this, [this] {
                const QString path = QFileDialog::getOpenFileName(
                    this, tr("A sound file"), {},
                    tr("Sound files (*.wav *.flac *.aiff *.aif *.ogg *.oga *.w64);;All files (*)"));
                if (!path.isEmpty()) {
                    add_file(path);
                }
            });
            continue;
        }
        QAction* action = menu.addAction(
            QString::fromUtf8(title_of(recipe).data(), qsizetype(title_of(recipe).size())), this,
            [this, recipe] { add(recipe); });
        action->setEnabled(!std::holds_alternative<MixRecipe>(recipe)
                           || session_.study().test_signals.size() >= 2);
    }
}

void SignalsPage::fill_save_menu() {
    QMenu& menu = *save_->menu();
    menu.clear();
    const auto offer = [&](const QString& name, std::optional<Track> track) {
        menu.addAction(name + QStringLiteral("…"), this, [this, track] { ask_and_save(track); });
    };
    for (const Track track : all_tracks) {
        if (!bench_.values(track).empty()) {
            offer(capitalised(bench_.word_for(track)), track);
        }
    }
    const auto* file = std::get_if<FileRecipe>(&bench_.signal().recipe);
    if (file != nullptr && session_.analysis() != nullptr && !session_.axis().is_analog()) {
        offer(tr("The whole file through the chain"), {});
    }
    menu.addSeparator();
    QAction* dither = menu.addAction(tr("Dither integers"));
    dither->setCheckable(true);
    dither->setChecked(dithers_);
    connect(dither, &QAction::triggered, this, [this](bool on) { dithers_ = on; });
}

void SignalsPage::ask_and_save(std::optional<Track> track) {
    const QString name = track ? bench_.name_of(*track) : tr("through the chain");
    const auto file =
        ask_sound_file(this, name, dithers_ ? Dithering::triangular : Dithering::none);
    if (file) {
        track ? save(*track, file->path, file->wish) : save_whole_file(file->path, file->wish);
    }
}

void SignalsPage::save(Track track, const QString& path, const SoundFormatWish& wish) {
    say(tr("%1 is being written").arg(path.section('/', -1)));
    saving_.save(bench_.samples(track), bench_.sample_rate_hz(), path, wish);
}

void SignalsPage::save_whole_file(const QString& path, const SoundFormatWish& wish) {
    const auto* file = std::get_if<FileRecipe>(&bench_.signal().recipe);
    const auto analysis = session_.analysis();
    if (file == nullptr || analysis == nullptr) {
        return;
    }
    if (!analysis->chain.is_stable()) {
        say(tr("◇ the chain is unstable: its output grows without end"));
        return;
    }
    say(tr("%1 is being written").arg(path.section('/', -1)));
    const auto from = folder_() / file->path;
    saving_.save_through(QString::fromStdString(from.string()), analysis->chain,
                         session_.study().sample_rate_hz, path, wish);
}

void SignalsPage::add_file(const QString& path) {
    offer_->hide();
    say(tr("%1 is being read").arg(path.section('/', -1)));
    looking_.begin([path = std::filesystem::path(path.toStdString())](
                       const Watch&) { return look_at_sound(path); },
                   [this](const Expected<FoundSound>& found) { take_file(found); });
}

void SignalsPage::take_file(const Expected<FoundSound>& found) {
    if (!found) {
        say(QString::fromStdString(to_text(found.error())));
        return;
    }
    const double rate = found->shape.sample_rate_hz, own = session_.study().sample_rate_hz;
    if (rate == own) {
        say({});
        add_sound(session_, *found, folder_(), false);
        return;
    }
    asked_ = *found;
    say(tr("%1 has %2 Hz, and the study %3 Hz.")
            .arg(QString::fromStdString(found->path.filename().string()))
            .arg(rate)
            .arg(own));
    offer_->show();
}

} // namespace syntonon
