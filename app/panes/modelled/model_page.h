// The page that belongs to a modelled stage alone: what it does to loud signals, where its poles
// go, and what becomes of it while it is moved. SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/latest_beside.h"
#include "app/model/session.h"
#include "app/plot/model_drawing.h"

#include <QWidget>
#include <optional>

class QComboBox;
class QLabel;

namespace syntonon {

class QuantityEdit;

class ModelPlot : public QWidget {
    Q_OBJECT

public:
    explicit ModelPlot(QWidget* parent = nullptr);
    void show_picture(std::optional<ModelPicture> picture, const QString& instead);
    const std::optional<ModelPicture>& picture() const { return picture_; }

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    std::optional<ModelPicture> picture_;
    QString instead_;
};

class ModelPage : public QWidget {
    Q_OBJECT

public:
    enum View { levels, harmonics, poles, moved };

    explicit ModelPage(Session& session, QWidget* parent = nullptr);
    static bool is_there(const Session& session); // the selected stage is modelled

    QComboBox* view() const { return view_; }
    QuantityEdit* frequency() const { return frequency_; } // of the tone, or of what moves it
    QuantityEdit* amount() const { return amount_; }       // its peak in dBFS, or octaves
    ModelPlot* plot() const { return plot_; }
    QString words() const;
    bool is_busy() const { return work_.is_busy(); }

protected:
    void showEvent(QShowEvent* event) override;

private:
    struct Wish {
        FilterModel model;
        View view = levels;
        double sample_rate_hz = 48000;
        double tone_hz = 220, peak_db = -6, moves_hz = 400, moves_oct = 1.5;
        bool operator==(const Wish&) const = default;
    };
    void refresh();
    void show_fields();
    void take(const Wish& wish, ModelPicture picture);
    QString words_of(const ModelPicture& picture) const;

    Session& session_;
    QComboBox* view_;
    QLabel *before_frequency_, *before_amount_;
    QuantityEdit *frequency_, *amount_;
    ModelPlot* plot_;
    QLabel* words_;
    double tone_hz_ = 220, peak_db_ = -6, moves_hz_ = 400, moves_oct_ = 1.5;
    std::optional<Wish> shown_, wished_;
    LatestBeside work_{this};
};

} // namespace syntonon
