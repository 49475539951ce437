// What a fit may do and what it minds, beyond what stands in the trim strip.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/session.h"
#include "core/design/correction.h"

#include <QWidget>
#include <map>
#include <string>

class QCheckBox;
class QComboBox;
class QGridLayout;
class QLabel;

namespace syntonon {

class LimitTable;
class QuantityEdit;

class FitSettingsPane : public QWidget {
    Q_OBJECT

public:
    enum class Limited { boost, q };

    explicit FitSettingsPane(Session& session, QWidget* parent = nullptr);

    QuantityEdit* line(std::string_view key) const; // null where there is none
    QComboBox* over() const { return over_; }
    QComboBox* match() const { return match_; }
    QComboBox* window_shape() const { return window_; }
    QCheckBox* refits() const { return refits_; }
    LimitTable* q_limits() const { return q_limits_; }
    LimitTable* boost_limits() const { return boost_limits_; }
    QString words() const;

private:
    void add_lines(QGridLayout& grid);
    void add_choices(QGridLayout& grid);
    void connect_choices();
    void add_line(QGridLayout& grid, int place, std::string_view key, const QString& about);
    void add_limits(LimitTable* table, Limited what, const QString& begin);
    void take_limit(Limited what, int row, int column, const QString& text);
    void refresh();
    void say(const QString& problem);

    Session& session_;
    struct Line {
        QLabel* caption;
        QuantityEdit* edit;
    };
    std::map<std::string, Line, std::less<>> lines_;
    QComboBox* over_;
    QLabel* match_caption_;
    QComboBox* match_;
    QLabel* window_caption_;
    QComboBox* window_;
    QCheckBox* refits_;
    LimitTable *boost_limits_, *q_limits_;
    QLabel* words_;
};

} // namespace syntonon
