// Many measured files in at once: whose they are, what was found in them, what is done with them.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/many_beside.h"
#include "app/model/measured_files.h"
#include "app/model/session.h"
#include "core/exchange/measured_file.h"
#include "core/exchange/position_names.h"

#include <QDialog>
#include <optional>
#include <string>
#include <vector>

class QCheckBox;
class QComboBox;
class QLabel;
class QPushButton;
class QTableWidget;

namespace syntonon {

// Reads the files beside the window; good ones can be imported while others are refused. A row for
// each position found; its channel and name follow the rule until the table corrects them.
class MeasurementsDialog : public QDialog {
    Q_OBJECT

public:
    enum Column { file, channel, position, found };

    // `sweep`: what was played when a sound is a recording.
    MeasurementsDialog(Session& session, const MeasuredFiles& files, const SweepPlan& sweep,
                       QWidget* parent = nullptr);

    QTableWidget* table() const { return table_; }
    QComboBox* rule_choice() const { return rule_; }
    QComboBox* sounds_choice() const { return sounds_; }
    QComboBox* reference_choice() const { return reference_; }
    QComboBox* rate_choice() const { return rate_; }
    QComboBox* gate_choice() const { return gate_; }
    QComboBox* microphone_choice() const { return microphone_; }
    QCheckBox* replace_choice() const { return replace_; }
    QCheckBox* beside_choice() const { return beside_; }
    QPushButton* import_button() const { return import_; }
    QString summary() const;
    // The names of what is not taken although it could be.
    std::vector<PositionName> left_out() const;
    bool is_busy() const { return reading_.is_busy(); }

private:
    // What a row stands for: an entry of a file, or the file's problem.
    struct Row {
        std::size_t file = 0;
        std::optional<std::size_t> entry;
        std::string channel, position; // as the rule or the user has them
        bool by_hand = false, taken = true;
    };

    static bool is_same(const Row& a, const Row& b) {
        return a.file == b.file && a.entry == b.entry;
    }

    QWidget* choices(int reference);
    void fill_choices(int reference);
    void name_choices();
    void follow();
    void read();
    void take(std::size_t index, MeasuredFile made);
    void name_rows();
    void fill();
    void fill_row(int at);
    void show_summary();
    QString found_text(const Row& row) const;
    bool is_doubtful(const Row& row) const;
    void import_all();
    void edit_row(int row, int column);

    Session& session_;
    std::vector<std::string> paths_;
    std::string channel_, position_; // that are known of one file
    SweepPlan sweep_;
    std::vector<std::optional<MeasuredFile>> files_; // parallel to the paths
    std::vector<Row> rows_, known_; // as they are read now; as they were when read otherwise
    QTableWidget* table_;
    QComboBox *rule_, *sounds_, *rate_, *reference_, *gate_, *microphone_;
    QCheckBox *replace_, *beside_;
    QLabel *rule_text_, *summary_;
    QPushButton* import_;
    bool filling_ = false, rule_chosen_ = false;
    ManyBeside reading_{this};
};

} // namespace syntonon
