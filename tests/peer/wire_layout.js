// What goes over the wire, read by the layout of AES70-3 (OCP.1) alone and by nothing of either
// program: a relay between a controller and a device that checks every message of both sides.
// SPDX-License-Identifier: GPL-3.0-or-later
'use strict';

const assert = require('assert');
const net = require('net');

const KINDS = ['command', 'command with response', 'notification', 'response', 'keep-alive'];
const HEADER = 9; // version, size, type, count: all behind the sync value

// One side's bytes as messages; `take(kind, message)` for each.
class Layout {
  constructor(take) {
    this.take = take;
    this.bytes = Buffer.alloc(0);
    this.counts = {};
  }

  feed(bytes) {
    this.bytes = Buffer.concat([this.bytes, bytes]);
    while (this.bytes.length >= 1 + HEADER) {
      assert.strictEqual(this.bytes[0], 0x3b, 'sync value');
      assert.strictEqual(this.bytes.readUInt16BE(1), 1, 'protocol version');
      const size = this.bytes.readUInt32BE(3);
      assert.ok(size >= HEADER, `a message of ${size} bytes`);
      if (this.bytes.length < 1 + size) {
        return;
      }
      this.read(this.bytes[7], this.bytes.readUInt16BE(8), this.bytes.subarray(1 + HEADER, 1 + size));
      this.bytes = this.bytes.subarray(1 + size);
    }
  }

  read(type, count, data) {
    const kind = KINDS[type];
    assert.ok(kind, `message type ${type}`);
    if (kind === 'keep-alive') {
      assert.strictEqual(count, 1, 'a keep-alive is alone');
      assert.ok(data.length === 2 || data.length === 4, 'seconds in 16 bits or milliseconds in 32');
      this.note(kind, {});
      return;
    }
    assert.ok(count >= 1, 'at least one in a message');
    for (let i = 0; i < count; ++i) {
      const size = data.readUInt32BE(0);
      assert.ok(size <= data.length, `${kind}: its size is beyond the message`);
      this.note(kind, this.one(kind, data.subarray(4, size)));
      data = data.subarray(size);
    }
    assert.strictEqual(data.length, 0, `${kind}: bytes behind the last one`);
  }

  one(kind, d) {
    const method = (at) => `${d.readUInt16BE(at)}.${d.readUInt16BE(at + 2)}`;
    if (kind === 'response') {
      return { handle: d.readUInt32BE(0), status: d[4], count: d[5], bytes: d.length - 6 };
    }
    if (kind === 'notification') {
      const context = d.readUInt16BE(9);
      assert.ok(d.length >= 11 + context + 8, 'emitter and event behind the context');
      return { method: method(4), count: d[8], emitter: d.readUInt32BE(11 + context) };
    }
    return { handle: d.readUInt32BE(0), object: d.readUInt32BE(4), method: method(8), count: d[12],
             bytes: d.length - 13 };
  }

  note(kind, message) {
    this.counts[kind] = (this.counts[kind] || 0) + 1;
    this.take(kind, message);
  }
}

// Listens at a port of its own. `calls` holds what was called, by object and method.
class Relay {
  constructor(devicePort) {
    this.devicePort = devicePort;
    this.calls = new Map();
    this.failure = null;
    this.open = new Map(); // calls without an answer yet, by handle
    this.sides = [];
    this.server = net.createServer((controller) => this.join(controller));
  }

  async start() {
    await new Promise((ready) => this.server.listen(0, '127.0.0.1', ready));
    return this.server.address().port;
  }

  join(controller) {
    const device = net.connect(this.devicePort, '127.0.0.1');
    const open = new Map();
    const from = new Layout((kind, m) => {
      assert.ok(kind.startsWith('command') || kind === 'keep-alive', `a controller sends no ${kind}`);
      if (kind.startsWith('command')) {
        if (kind === 'command with response') {
          assert.ok(!open.has(m.handle), 'a handle that is free');
          open.set(m.handle, m);
        }
        this.calls.set(`${m.object} ${m.method}`, { count: m.count, bytes: m.bytes });
      }
    });
    const to = new Layout((kind, m) => {
      assert.ok(!kind.startsWith('command'), `a device sends no ${kind}`);
      if (kind === 'response') {
        assert.ok(open.delete(m.handle), 'an answer to what was called');
        assert.ok(m.status <= 15, `status ${m.status}`);
      }
    });
    this.sides.push({ from, to });
    const pass = (source, target, layout) => {
      source.on('data', (bytes) => {
        try {
          layout.feed(bytes);
        } catch (error) {
          this.failure = this.failure || error;
        }
        target.write(bytes);
      });
      source.on('end', () => target.end());
      source.on('error', () => target.destroy());
    };
    pass(controller, device, from);
    pass(device, controller, to);
  }

  // How many messages of each kind, of all connections.
  counts(side) {
    const all = {};
    for (const one of this.sides) {
      for (const [kind, count] of Object.entries(one[side].counts)) {
        all[kind] = (all[kind] || 0) + count;
      }
    }
    return all;
  }

  stop() {
    this.server.close();
    if (this.failure) {
      throw this.failure;
    }
  }
}

module.exports = { Relay };
