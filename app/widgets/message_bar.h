// One line at the top of the window: what went wrong or what is offered. Never blocks work.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QWidget>
#include <functional>
#include <utility>
#include <vector>

class QLabel;
class QHBoxLayout;

namespace syntonon {

enum class MessageKind { note, problem };

class MessageBar : public QWidget {
    Q_OBJECT

public:
    using Choice = std::pair<QString, std::function<void()>>;

    explicit MessageBar(QWidget* parent = nullptr);

    // Replaces what is shown. Each choice becomes a button that also closes the bar.
    void show_message(MessageKind kind, const QString& text,
                      const std::vector<Choice>& choices = {});
    QString text() const;

protected:
    void paintEvent(QPaintEvent* event) override;

private:
    void clear_buttons();

    MessageKind kind_ = MessageKind::note;
    QLabel* label_;
    QHBoxLayout* buttons_;
};

} // namespace syntonon
