// The transfer function written out, to be read, copied and edited in place.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"
#include "core/exchange/transfer_text.h"

#include <QWidget>

class QComboBox;
class QLabel;
class QPlainTextEdit;

namespace syntonon {

struct Misread;
struct ReadTransfer;

// Of the selected stage or the whole chain. A stage by its roots or its coefficients follows while
// one types; where no stage is selected what is typed becomes one. What cannot be read is marked at
// its place and changes nothing.
class TextPane : public QWidget {
    Q_OBJECT

public:
    explicit TextPane(Session& session, QWidget* parent = nullptr);

    QComboBox* of() const { return of_; }
    QComboBox* form() const { return form_; }
    QPlainTextEdit* text() const { return text_; }
    QString problem() const;
    void copy_as(TransferDialect dialect);

protected:
    void showEvent(QShowEvent* event) override;

private:
    Expected<std::string> written(TransferDialect dialect) const;
    bool is_of_chain() const;
    bool is_of_new_stage() const;
    bool can_edit() const;
    void refresh();
    void write_text();
    void take_typed();
    void add_typed(const ReadTransfer& read);
    void show_problem(const QString& text);
    void mark(const Misread* place);

    Session& session_;
    QComboBox *of_, *form_;
    QPlainTextEdit* text_;
    QLabel* words_;
    std::shared_ptr<const ChannelAnalysis> shown_;
    StageSpec typed_; // what the text stands for
    std::string typed_stage_;
    bool is_writing_ = false;
};

} // namespace syntonon
