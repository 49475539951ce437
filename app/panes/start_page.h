// Where a study without anything in it begins: in the lanes' place, until there is something to
// draw.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QStringList>
#include <QWidget>
#include <vector>

class QPushButton;
class QVBoxLayout;

namespace syntonon {

class StartPage : public QWidget {
    Q_OBJECT

public:
    explicit StartPage(QWidget* parent = nullptr);

    void show_recent(const QStringList& paths);
    // In the order in which they stand.
    QPushButton* demo_button() const { return demo_; }
    QPushButton* import_button() const { return import_; }
    QPushButton* target_button() const { return target_; }
    QPushButton* stage_button() const { return stage_; }
    const std::vector<QPushButton*>& recent_buttons() const { return recent_; }

signals:
    void demo_asked_for();
    void tour_asked_for();
    void import_asked_for();
    void target_asked_for();
    void stage_asked_for();
    void study_asked_for(const QString& path);

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    QPushButton* offer(QVBoxLayout& into, const QString& title, const QString& words);

    QVBoxLayout* recent_column_;
    QWidget* recent_title_;
    QPushButton *demo_, *tour_, *import_, *target_, *stage_;
    std::vector<QPushButton*> recent_;
};

} // namespace syntonon
