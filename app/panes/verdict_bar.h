// The requirements of the selected channel at a glance.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"
#include "app/panes/jobs_box.h"

#include <QAbstractButton>
#include <QWidget>
#include <vector>

class QPushButton;

namespace syntonon {

// One finding: a filled disc when met, an open lozenge when not, a dashed one when undecided.
class FindingButton : public QAbstractButton {
    Q_OBJECT

public:
    explicit FindingButton(QWidget* parent);
    void show_finding(const Finding& finding);
    const Finding& finding() const { return finding_; }
    QString line() const { return line_; }
    QSize sizeHint() const override { return {width_, 44}; }
    QSize minimumSizeHint() const override { return {60, 44}; }

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    int measured_width() const;

    Finding finding_;
    QString line_;
    int width_ = 60;
};

// All findings while they fit. Of more, those that are not met come first, then the closest ones; a
// menu holds the rest and says how many of them are not met.
class VerdictBar : public QWidget {
    Q_OBJECT

public:
    explicit VerdictBar(Session& session, QWidget* parent = nullptr);
    const std::vector<FindingButton*>& findings() const { return buttons_; }
    QPushButton* more_button() const { return more_; }
    JobsBox* jobs_box() const { return jobs_; }
    QPushButton* view_button() const { return view_; }

signals:
    void finding_chosen(const Finding& finding);

protected:
    void resizeEvent(QResizeEvent* event) override;
    void paintEvent(QPaintEvent* event) override;

private:
    void refresh();
    void make_buttons(std::size_t count);
    void fit();
    void show_jobs();
    void show_view();
    void fill_view_menu();
    void summarise();

    Session& session_;
    QStringList summary_; // two lines
    int summary_width_ = 210;
    std::vector<FindingButton*> buttons_;
    QWidget* row_;
    QPushButton* more_;
    QPushButton* view_; // hidden while no delivery is for a processor
    JobsBox* jobs_;
};

} // namespace syntonon
