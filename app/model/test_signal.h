// What is sent through the chain on the Listen desk.
// SPDX-License-Identifier: GPL-3.0-or-later
#pragma once

#include <QObject>
#include <QString>
#include <vector>

namespace syntonon {

enum class SignalKind { impulse, step, numbers };

class TestSignal : public QObject {
    Q_OBJECT

public:
    using QObject::QObject;

    SignalKind kind() const { return kind_; }
    const std::vector<double>& numbers() const { return numbers_; } // as typed or pasted
    int length() const { return length_; }                          // of what is shown, in samples

    void choose(SignalKind kind) {
        kind_ = kind;
        emit changed();
    }
    void set_numbers(std::vector<double> numbers) {
        numbers_ = std::move(numbers);
        kind_ = SignalKind::numbers;
        emit changed();
    }
    void set_length(int samples) {
        length_ = samples;
        emit changed();
    }

    // The input, `length()` samples, numbers followed by silence.
    std::vector<double> samples() const;

signals:
    void changed();

private:
    SignalKind kind_ = SignalKind::impulse;
    std::vector<double> numbers_;
    int length_ = 64;
};

} // namespace syntonon
