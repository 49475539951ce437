// The layout of one delivery; every change is made to the study at once.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"

#include <QWidget>
#include <functional>

class QCheckBox;
class QComboBox;
class QFormLayout;
class QLabel;
class QLineEdit;
class QListWidget;
class QPlainTextEdit;
class QSpinBox;

namespace syntonon {

class DeliveryForm : public QWidget {
    Q_OBJECT

public:
    explicit DeliveryForm(Session& session, QWidget* parent = nullptr);

    void show_delivery(const std::string& id); // empty: none
    QComboBox* format_choice() const { return format_; }
    QComboBox* processor_choice() const { return processor_; }
    QComboBox* structure_choice() const { return structure_; }
    QComboBox* block_choice() const { return block_; }
    QLineEdit* pattern() const { return pattern_; }
    QPlainTextEdit* form_edit() const { return form_; }
    void take_structure(Structure structure);
    QComboBox* number_choice() const { return number_; }
    QComboBox* order_choice() const { return order_; }
    QLineEdit* name() const { return name_; }
    QListWidget* channels() const { return channels_; }
    QString problem() const;

private:
    void fill_choices();
    void fill_processors();
    void follow_processor();
    void take_pattern();
    void take_form();
    void show_what_counts(const Delivery& delivery);
    void build();
    void refresh();
    void show_channels(const Delivery& delivery);
    void follow_controls();
    void take_channels();
    void take_order();
    void change(const QString& what, const std::function<void(Delivery&)>& change);
    void say(const QString& problem);

    Session& session_;
    std::string id_;
    QLineEdit* name_;
    QLineEdit* pattern_;
    QComboBox *format_, *number_, *feedback_, *normalisation_, *order_;
    QComboBox *processor_, *structure_, *block_;
    QCheckBox* indexed_;
    QPlainTextEdit* form_;
    QFormLayout* rows_ = nullptr;
    QSpinBox* digits_;
    QListWidget* channels_;
    QLabel* problem_;
    bool filling_ = false;
};

} // namespace syntonon
