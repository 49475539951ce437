// SPDX-License-Identifier: GPL-3.0-or-later
#include "app/widgets/theme.h"

#include "app/widgets/words.h"

#include <QApplication>
#include <QFontDatabase>
#include <QHash>
#include <QPalette>
#include <QStyleFactory>
#include <array>

// They are in a library, whose resources have to be asked for; outside of any namespace.
static void take_resources() {
    Q_INIT_RESOURCE(resources);
}

namespace syntonon {
namespace {

const Theme paper = {
    .name = ThemeName::paper,
    .ground = QColor("#EFECE5"),
    .panel = QColor("#F8F6F1"),
    .raised = QColor("#FFFFFF"),
    .hairline = QColor("#D5D0C4"),
    .grid = QColor("#E4E0D6"),
    .text = QColor("#23262B"),
    .soft = QColor("#6B6F76"),
    .copper = QColor("#B4561F"),
    .ink = QColor("#1D3557"),
    .corridor = QColor("#CFE3DF"),
    .corridor_edge = QColor("#55908A"),
    .plum = QColor("#7A4A78"),
    .measured = QColor("#8A8D92"),
    .met = QColor("#2F6B4F"),
    .not_met = QColor("#A23B2A"),
};

const Theme night = {
    .name = ThemeName::night,
    .ground = QColor("#1B2026"),
    .panel = QColor("#21272E"),
    .raised = QColor("#282F37"),
    .hairline = QColor("#424B55"),
    .grid = QColor("#30373F"),
    .text = QColor("#EDEAE4"),
    .soft = QColor("#B7BDC4"),
    .copper = QColor("#E7945C"),
    .ink = QColor("#A9C3E8"),
    .corridor = QColor("#26413F"),
    .corridor_edge = QColor("#76B8AF"),
    .plum = QColor("#CFA3CC"),
    .measured = QColor("#9BA1A8"),
    .met = QColor("#86CBA8"),
    .not_met = QColor("#F09A8B"),
};

const Theme* current = &paper;

QString style_sheet(const Theme& t) {
    return QStringLiteral(R"(
QMenuBar { background: transparent; }
QMenuBar::item { padding: 6px 8px; background: transparent; color: %1; }
QMenuBar::item:selected { color: %2; }
QMenu { background: %3; border: 1px solid %4; padding: 4px; }
QMenu::item { padding: 4px 24px 4px 12px; color: %1; }
QMenu::item:selected { background: %5; color: %2; }
QMenu::item:disabled { color: %6; }
QMenu::separator { height: 1px; background: %4; margin: 4px 8px; }
QToolTip { background: %3; color: %1; border: 1px solid %4; }
QComboBox { border: none; border-bottom: 1px solid %6; background: transparent; padding: 2px 18px 2px 0; color: %1; }
QComboBox:focus { border-bottom: 2px solid %2; }
QComboBox::drop-down { border: none; width: 16px; }
QComboBox::down-arrow { image: url(:/icons/down-%7.svg); width: 10px; height: 10px; }
QComboBox QAbstractItemView { background: %3; color: %1; border: 1px solid %4; selection-background-color: %5; selection-color: %2; outline: none; }
QPushButton { border: 1px solid %4; background: %3; color: %1; padding: 4px 12px; }
QPushButton:hover { border-color: %2; }
QPushButton:focus { border: 1px solid %2; }
QPushButton:default { border: 1px solid %1; }
QPushButton:disabled { color: %6; }
QSpinBox { border: 1px solid %4; background: %3; color: %1; padding: 2px; }
QSpinBox:focus { border: 1px solid %2; }
QSpinBox::up-button, QSpinBox::down-button { border: none; width: 16px; }
QSpinBox::up-arrow { image: url(:/icons/up-%7.svg); width: 8px; height: 8px; }
QSpinBox::down-arrow { image: url(:/icons/down-%7.svg); width: 8px; height: 8px; }
QRadioButton::indicator { width: 12px; height: 12px; border: 1px solid %6; border-radius: 7px; background: %3; }
QRadioButton::indicator:checked { border: 4px solid %1; width: 6px; height: 6px; }
QTreeView { background: %9; color: %1; selection-background-color: %5; selection-color: %2; }
QHeaderView::section { background: %8; color: %6; border: none; border-bottom: 1px solid %4; padding: 3px 4px; }
QTableView { background: %9; color: %1; gridline-color: %5; border: 1px solid %4; selection-background-color: %5; selection-color: %2; }
syntonon--QuantityEdit, syntonon--SoundDeviceBox QLineEdit, QLineEdit#coefficients { border: none; border-bottom: 1px solid %6; background: transparent; padding: 2px 0; }
syntonon--QuantityEdit:focus, syntonon--SoundDeviceBox QLineEdit:focus, QLineEdit#coefficients:focus { border-bottom: 2px solid %2; }
syntonon--QuantityEdit:disabled { color: %6; }
QTableView QLineEdit { border: 1px solid %2; background: %3; padding: 0 2px; }
QPlainTextEdit, QDialog QLineEdit, syntonon--DeliveryForm QLineEdit, syntonon--DeliveryPreview QLineEdit, syntonon--ChannelList QLineEdit { background: %3; color: %1; border: 1px solid %4; padding: 2px; }
QDialog QLineEdit:focus, syntonon--DeliveryForm QLineEdit:focus, syntonon--DeliveryPreview QLineEdit:focus, syntonon--ChannelList QLineEdit:focus, QPlainTextEdit:focus { border: 1px solid %2; }
QDialog { background: %9; }
QScrollBar:vertical { background: transparent; width: 8px; margin: 0; }
QScrollBar::handle:vertical { background: %4; min-height: 24px; }
QScrollBar:horizontal { background: transparent; height: 8px; margin: 0; }
QScrollBar::handle:horizontal { background: %4; min-width: 24px; }
QScrollBar::add-line, QScrollBar::sub-line { width: 0; height: 0; }
QScrollBar::add-page, QScrollBar::sub-page { background: transparent; }
QSplitter::handle { background: %4; }
)")
        .arg(t.text.name(), t.copper.name(), t.raised.name(), t.hairline.name(), t.grid.name(),
             t.soft.name(), t.name == ThemeName::paper ? "paper" : "night", t.ground.name(),
             t.panel.name());
}

} // namespace

const Theme& theme_of(ThemeName name) {
    return name == ThemeName::paper ? paper : night;
}

const Theme& theme() {
    return *current;
}

void use_theme(QApplication& application, ThemeName name) {
    take_resources();
    current = &theme_of(name);
    const Theme& t = *current;
    application.setStyle(QStyleFactory::create("Fusion"));
    QPalette palette;
    palette.setColor(QPalette::Window, t.panel);
    palette.setColor(QPalette::WindowText, t.text);
    palette.setColor(QPalette::Base, t.raised);
    palette.setColor(QPalette::AlternateBase, t.panel);
    palette.setColor(QPalette::Text, t.text);
    palette.setColor(QPalette::PlaceholderText, t.soft);
    palette.setColor(QPalette::Button, t.raised);
    palette.setColor(QPalette::ButtonText, t.text);
    palette.setColor(QPalette::Highlight, t.grid);
    palette.setColor(QPalette::HighlightedText, t.copper);
    palette.setColor(QPalette::ToolTipBase, t.raised);
    palette.setColor(QPalette::ToolTipText, t.text);
    palette.setColor(QPalette::Link, t.copper);
    application.setPalette(palette);
    application.setFont(text_font(12));
    application.setStyleSheet(style_sheet(t));
    emit theme_notifier().changed();
}

ThemeNotifier& theme_notifier() {
    static ThemeNotifier notifier;
    return notifier;
}

QFont text_font(int pixels, QFont::Weight weight) {
    // Panes ask for the same few fonts at every repaint.
    static QHash<std::pair<int, int>, QFont> made;
    const auto known = made.constFind({pixels, weight});
    if (known != made.constEnd()) {
        return *known;
    }
    static const QString family =
        QFontDatabase::families().contains("Inter")
            ? QStringLiteral("Inter")
            : QFontDatabase::systemFont(QFontDatabase::GeneralFont).family();
    QFont font(family);
    font.setPixelSize(pixels);
    font.setWeight(weight);
    font.setHintingPreference(QFont::PreferNoHinting);
    made.insert({pixels, weight}, font);
    return font;
}

QColor channel_colour(const QString& own, int index, ThemeName of) {
    if (QColor::isValidColor(own)) {
        return QColor(own);
    }
    static const std::array day = {"#B4561F", "#3F5F9A", "#8F7420", "#4F7F5C",
                                   "#7A4A78", "#3E7F8A", "#8A4B4B", "#5D5F66"};
    static const std::array dark = {"#E7945C", "#8FB0E8", "#D2B45A", "#8CC49B",
                                    "#CFA3CC", "#83C6D1", "#DB9A9A", "#B0B4BC"};
    const auto i = static_cast<std::size_t>(index) % day.size();
    return QColor(of == ThemeName::paper ? day[i] : dark[i]);
}

QStringList channel_colour_names() {
    return {tr("copper"), tr("blue"), tr("ochre"), tr("green"),
            tr("plum"),   tr("teal"), tr("brick"), tr("grey")};
}

} // namespace syntonon
