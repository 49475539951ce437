// Coefficients that others wrote: what a file holds, how it is read, and what comes of it, before
// it becomes stages.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/latest_beside.h"
#include "app/model/session.h"
#include "core/exchange/found_coefficients.h"

#include <QDialog>
#include <memory>
#include <string>

class QComboBox;
class QFormLayout;
class QLabel;
class QPushButton;

namespace syntonon {

class LevelPlot;

class CoefficientsInDialog : public QDialog {
    Q_OBJECT

public:
    // Of text, which `from` names; `name`: what the stages will be called. Long text is read beside
    // the window.
    CoefficientsInDialog(Session& session, std::string text, const QString& from,
                         const QString& name, QWidget* parent = nullptr);

    const Expected<FoundCoefficients>& found() const { return found_; }
    bool is_busy() const { return work_.is_busy(); }
    QString facts() const;
    QString doubt() const; // about the sign; empty where there is none
    QComboBox* as() const { return as_; }
    QComboBox* order() const { return order_; }
    QComboBox* sign() const { return sign_; }
    QComboBox* words() const { return words_; } // a processor's name, or a word
    LevelPlot* plot() const { return plot_; }
    QPushButton* turn_button() const { return turn_; } // the sign
    QPushButton* take_button() const { return take_; }
    // What the user should know of what was taken; may be empty.
    QString words_of_taken() const;

private:
    void build(const QString& from);
    void offer_choices();
    QWidget* doubt_row();
    void read();
    struct Read;
    void take_read(Expected<Read> read);
    Expected<CoefficientReading> reading() const;
    Expected<void> put_words(CoefficientReading& reading) const;
    void show_found();
    void show_levels(const Read& read);
    void turn_sign();
    void take();

    Session& session_;
    std::shared_ptr<const std::string> text_;
    QString name_;
    Expected<FoundCoefficients> found_;
    QFormLayout* form_;
    QComboBox *as_, *order_, *sign_, *words_;
    QLabel *facts_, *doubt_;
    LevelPlot* plot_;
    QPushButton *turn_, *take_;
    LatestBeside work_{this};
};

} // namespace syntonon
