// The forms of an FIR's phase in time, above one another, and what comes too early of each.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/beside.h"
#include "app/model/session.h"
#include "core/design/fir.h"
#include "core/design/fir/time_forms.h"

#include <QWidget>
#include <optional>
#include <utility>
#include <vector>

class QComboBox;
class QLabel;
class QTableWidget;

namespace syntonon {

class QuantityEdit;

struct ShownForm {
    FirPhase phase = FirPhase::as_made;
    TimeForm form;
};

// All on one axis; of the one that is chosen the time before its onset is washed. The wheel
// magnifies the time, a drag moves along it, a double click shows all of it.
class TimeFormsPlot : public QWidget {
    Q_OBJECT

public:
    explicit TimeFormsPlot(QWidget* parent = nullptr);

    void show_forms(const std::vector<ShownForm>* forms, std::size_t chosen, double rate_hz);
    void show_words(const QString& words); // instead of curves
    std::pair<double, double> shown_samples() const;

protected:
    void paintEvent(QPaintEvent* event) override;
    void wheelEvent(QWheelEvent* event) override;
    void mousePressEvent(QMouseEvent* event) override;
    void mouseMoveEvent(QMouseEvent* event) override;
    void mouseDoubleClickEvent(QMouseEvent* event) override;

private:
    QRectF area() const;
    double whole() const; // samples
    void show_part(double from, double to);
    std::pair<double, double> values() const; // lowest and highest
    void paint_before(QPainter& painter) const;
    void paint_curve(QPainter& painter, const ShownForm& shown, const QColor& colour) const;
    void paint_axes(QPainter& painter) const;
    double x_of(double sample) const;

    const std::vector<ShownForm>* forms_ = nullptr;
    std::size_t chosen_ = 0;
    double rate_hz_ = 48000;
    QString words_;
    std::optional<std::pair<double, double>> part_; // else all
    double held_x_ = 0;
};

class TimeFormsPane : public QWidget {
    Q_OBJECT

public:
    enum Column { phase, starts, energy, greatest };

    explicit TimeFormsPane(Session& session, QWidget* parent = nullptr);

    QTableWidget* table() const { return table_; }
    QComboBox* signal() const { return signal_; }
    QuantityEdit* frequency() const { return frequency_; }
    TimeFormsPlot* plot() const { return plot_; }
    const std::vector<ShownForm>& forms() const { return forms_; }
    bool is_ready() const { return !work_.is_busy(); }

    static QColor colour_of(FirPhase phase);

protected:
    void showEvent(QShowEvent* event) override;

private:
    void refresh();
    void work_out(const FirSpec& spec, const Filter& filter);
    void take(Expected<std::vector<TimeForm>> forms, const std::vector<FirPhase>& phases);
    void show_rows();

    Session& session_;
    QComboBox* signal_;
    QuantityEdit* frequency_;
    QTableWidget* table_;
    TimeFormsPlot* plot_;
    ToneBurst burst_;
    std::vector<ShownForm> forms_;
    struct Asked { // what is shown, or being worked out
        Filter filter;
        FirPhase phase;
        TimeSignal signal;
        double frequency_hz;
    };
    std::optional<Asked> asked_;
    Beside work_{this};
};

} // namespace syntonon
