// Both controllers, the public package aes70 and ours, against the simulated processor with a relay
// between them that checks every message by the standard's layout; then what both have called of the
// same objects, side by side.
//   node compare_wire.js MODULES_FOLDER PORT BATCH_PROGRAM STUDY
// SPDX-License-Identifier: GPL-3.0-or-later
'use strict';

const assert = require('assert');
const { execFile } = require('child_process');
const path = require('path');
const { Relay } = require('./wire_layout.js');

const [modules, port, batch, study] = process.argv.slice(2);

const run = (program, args) => new Promise((resolve, reject) => {
  execFile(program, args, { timeout: 60000 }, (error, out, err) =>
    error ? reject(new Error(`${program} ${args.join(' ')}: ${err}`)) : resolve(err));
});

async function watched(use) {
  const relay = new Relay(Number(port));
  await use(await relay.start());
  relay.stop();
  return relay;
}

async function main() {
  const theirs = await watched((at) =>
    run(process.execPath, [path.join(__dirname, 'drive_device.js'), modules, String(at)]));
  const ours = await watched(async (at) => {
    const said = await run(batch, ['transfer', study, '--delivery', 'rack', '--device',
                                   `127.0.0.1:${at}`]);
    assert.match(said, /read back and compared/);
  });
  for (const [name, relay] of [['aes70', theirs], ['ours', ours]]) {
    const sent = relay.counts('from'), got = relay.counts('to');
    assert.ok(sent['command with response'] > 20, `${name} calls`);
    assert.ok(sent['keep-alive'] > 0 && got['keep-alive'] > 0, `${name} keeps alive`);
    assert.strictEqual(got.response, sent['command with response'], `${name}: an answer each`);
    console.log(`${name}: ${JSON.stringify(sent)}, the device: ${JSON.stringify(got)}`);
  }
  let shared = 0;
  for (const [call, wire] of ours.calls) {
    const other = theirs.calls.get(call);
    const has_lists = /^\d+ 4\.[23]$/.test(call) && wire.bytes > 4; // coefficients of any number
    if (other) {
      assert.strictEqual(wire.count, other.count, `parameters of ${call}`);
      assert.ok(has_lists || wire.bytes === other.bytes, `bytes of ${call}`);
      ++shared;
    }
  }
  assert.ok(shared >= 20, `only ${shared} calls of the same objects`);
  console.log(`${shared} calls that both have made are alike`);
}

main().then(() => process.exit(0), (error) => {
  console.error(error);
  process.exit(1);
});
