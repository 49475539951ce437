// A channel in the words of a delivery's processor, worked out beside the window.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include "app/model/beside.h"
#include "app/model/latest_beside.h"
#include "app/model/session.h"
#include "core/study/structure_table.h"
#include "core/study/words.h"
#include "core/word/word_facts.h"

#include <QObject>
#include <memory>
#include <optional>
#include <string>
#include <vector>

namespace syntonon {

// Levels as drawn: the design and the words, and by how much words differ from it.
struct WordsPicture {
    std::vector<double> hz;
    std::vector<double> ideal_db, words_db;
    std::vector<double> nearest_off_db;  // empty where the nearest words do not fit
    std::vector<double> searched_off_db; // empty unless searched words are there
};

struct WordsResult {
    std::optional<Problem> problem; // why there are no words; the table may be there all the same
    WordChain chain;
    bool is_searched = false, is_out_of_date = false;
    WordsPicture picture;
    std::optional<WordFacts> facts;
    std::optional<StructureTable> table;
};

// Follows the study while it is looked at.
class WordsWork : public QObject {
    Q_OBJECT

public:
    explicit WordsWork(Session& session, QObject* parent = nullptr);

    // Of which delivery; empty: none. Of the session's channel.
    void look_at(const std::string& delivery);
    // Asks again where something that counts has changed.
    void refresh();
    // Null until it is there, and for a delivery without a processor.
    std::shared_ptr<const WordsResult> result() const { return result_; }
    bool is_busy() const { return facts_.is_busy(); }

    // Searches the words of all the delivery's channels, one after the other, as one step of the
    // history.
    void search();
    void stop_search();
    bool is_searching() const { return searching_.is_busy(); }
    double search_done() const { return searching_.done(); }

signals:
    void changed();        // the result
    void search_changed(); // begun, ended
    void search_failed(const QString& why);

private:
    struct Question;
    std::optional<Question> question() const;

    Session& session_;
    std::string delivery_;
    std::shared_ptr<const Question> asked_;
    std::shared_ptr<const WordsResult> result_;
    LatestBeside facts_{this};
    Beside searching_{this};
};

} // namespace syntonon
