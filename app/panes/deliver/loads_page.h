// What FIRs take on this machine, measured on request.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/beside.h"
#include "app/model/session.h"
#include "core/engine/convolution_load.h"
#include "core/word/budget.h"

#include <QStringList>
#include <QTimer>
#include <QWidget>
#include <optional>
#include <vector>

class QLabel;
class QLineEdit;
class QPushButton;
class QSpinBox;
class QTableWidget;

namespace syntonon {

class LoadsPage : public QWidget {
    Q_OBJECT

public:
    explicit LoadsPage(Session& session, QWidget* parent = nullptr);

    // Of the next measurement; null: none, and no columns for it. Frames as the delivery has them.
    void use_processor(const Processor* processor, int block_frames);
    QLineEdit* taps_edit() const { return taps_; }
    QSpinBox* frames_edit() const { return frames_; }
    QString words() const;
    QPushButton* measure_button() const { return measure_; }
    QTableWidget* table() const { return table_; }

private:
    void measure();
    void show_progress();
    void show_loads();
    void show_row(int row, const QStringList& texts, bool is_cheaper);
    QString break_evens() const;

    Session& session_;
    std::optional<Processor> processor_;
    std::vector<std::size_t> asked_;     // how many taps
    std::vector<ConvolutionLoad> loads_; // of those and of short ones, ascending
    int frames_of_loads_ = 0;
    QLineEdit* taps_;
    QSpinBox* frames_;
    QPushButton* measure_;
    QLabel* words_;
    QTableWidget* table_;
    QTimer progress_;
    Beside work_{this};
};

} // namespace syntonon
