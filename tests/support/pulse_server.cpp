// SPDX-License-Identifier: GPL-3.0-or-later
#include "tests/support/pulse_server.h"

#include <chrono>
#include <csignal>
#include <cstdlib>
#include <cstring>
#include <fcntl.h>
#include <filesystem>
#include <sys/wait.h>
#include <thread>
#include <unistd.h>

namespace syntonon::test {
namespace {

void wait_ms(int ms) {
    std::this_thread::sleep_for(std::chrono::milliseconds(ms));
}

} // namespace

pid_t PulseServer::start(const std::vector<std::string>& call, const std::string& out) {
    const pid_t process = ::fork();
    if (process == 0) {
        const int file = ::open(out.c_str(), O_WRONLY | O_CREAT | O_TRUNC, 0600);
        const int nowhere = ::open((out + ".log").c_str(), O_WRONLY | O_CREAT | O_TRUNC, 0600);
        ::dup2(file, STDOUT_FILENO);
        ::dup2(nowhere, STDERR_FILENO);
        std::vector<char*> arguments;
        for (const std::string& word : call) {
            arguments.push_back(const_cast<char*>(word.c_str()));
        }
        arguments.push_back(nullptr);
        ::execvp(arguments[0], arguments.data());
        ::_exit(127);
    }
    return process;
}

void PulseServer::end(pid_t& process) {
    if (process > 0) {
        ::kill(process, SIGTERM);
        int status = 0;
        ::waitpid(process, &status, 0);
        process = 0;
    }
}

PulseServer::PulseServer() {
    const std::string socket = scratch_.file("sound.socket").string();
    const char* now = std::getenv("PULSE_SERVER");
    before_ = now != nullptr ? now : "";
    ::setenv("PULSE_SERVER", ("unix:" + socket).c_str(), 1);
    ::setenv("PULSE_RUNTIME_PATH", scratch_.file("run").c_str(), 1);
    ::setenv("PULSE_COOKIE", scratch_.file("cookie").c_str(), 1);
    server_ = start({"pulseaudio", "-n", "--daemonize=no", "--use-pid-file=no",
                     "--exit-idle-time=-1", "--realtime=no", "--high-priority=no", "-L",
                     "module-null-sink sink_name=nowhere rate=48000 format=float32le", "-L",
                     "module-native-protocol-unix auth-anonymous=1 socket=" + socket},
                    scratch_.file("server.log").string());
    for (int i = 0; i < 100 && !std::filesystem::exists(socket); ++i) {
        wait_ms(50);
    }
    for (int i = 0; i < 60 && !there_; ++i) {
        there_ = std::system("pactl info >/dev/null 2>&1") == 0;
        wait_ms(there_ ? 0 : 50);
    }
}

PulseServer::~PulseServer() {
    end(recorder_);
    stop();
    if (before_.empty()) {
        ::unsetenv("PULSE_SERVER");
    } else {
        ::setenv("PULSE_SERVER", before_.c_str(), 1);
    }
}

void PulseServer::stop() {
    end(server_);
}

void PulseServer::start_recording() {
    recorder_ = start({"parec", "-d", "nowhere.monitor", "--raw", "--format=float32le",
                       "--channels=1", "--rate=48000", "--latency-msec=20"},
                      scratch_.file("recorded").string());
    // Until it does record: it then writes silence.
    for (int i = 0; i < 100; ++i) {
        wait_ms(50);
        std::error_code none;
        if (std::filesystem::file_size(scratch_.file("recorded"), none) > 0 && !none) {
            return;
        }
    }
}

std::vector<float> PulseServer::stop_recording() {
    wait_ms(200);
    end(recorder_);
    const std::string bytes = bytes_of(scratch_.file("recorded"));
    std::vector<float> samples(bytes.size() / sizeof(float));
    std::memcpy(samples.data(), bytes.data(), samples.size() * sizeof(float));
    return samples;
}

} // namespace syntonon::test
