// What the channel's chain makes of what was measured: at each position, in level and in time.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/latest_beside.h"
#include "app/model/session.h"
#include "app/plot/before_after_drawing.h"

#include <QTimer>
#include <QWidget>
#include <memory>
#include <optional>

class QComboBox;
class QLabel;
class QPushButton;

namespace syntonon {

class ResultPlot : public QWidget {
    Q_OBJECT

public:
    explicit ResultPlot(QWidget* parent = nullptr);
    // Null: none, and why.
    void show_result(std::shared_ptr<const BeforeAfter> result, const QColor& after,
                     const QString& otherwise);
    void show_left_over(LeftOver left);
    void show_form(std::optional<BeforeAfterForm> form); // nothing: what is left over
    const BeforeAfter* result() const { return result_.get(); }

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    std::shared_ptr<const BeforeAfter> result_;
    QColor after_;
    QString otherwise_;
    LeftOver left_;
    std::optional<BeforeAfterForm> form_ = BeforeAfterForm::level;
};

class ResultPane : public QWidget {
    Q_OBJECT

public:
    explicit ResultPane(Session& session, QWidget* parent = nullptr);

    ResultPlot* plot() const { return plot_; }
    QComboBox* form() const { return form_; }
    QPushButton* report() const { return report_; }
    QString words() const;

protected:
    void showEvent(QShowEvent* event) override;

private:
    void refresh();
    void refresh_left_over();
    void say();

    Session& session_;
    ResultPlot* plot_;
    QComboBox* form_;
    QPushButton* report_;
    QLabel* words_;
    QString verdict_, later_, left_;
    std::shared_ptr<const ChannelAnalysis> of_; // what is shown, or being worked out
    LatestBeside work_{this};
};

} // namespace syntonon
