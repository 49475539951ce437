// An independent controller, the public package aes70, drives the simulated processor: it walks
// through its objects, sets and reads every class, and hears what changes. Prints what went wrong
// and ends with 1, or "all as wanted".
//   node drive_device.js MODULES_FOLDER PORT
// SPDX-License-Identifier: GPL-3.0-or-later
'use strict';

const assert = require('assert');
const path = require('path');

const [modules, port] = process.argv.slice(2);
const aes70 = (file) => require(path.resolve(modules, 'aes70/lib', file));
const { RemoteDevice } = aes70('Controller');
const { TCPConnection } = aes70('controller/TCP');
const Types = aes70('Types');

const nearly = (a, b) => assert.ok(Math.abs(a - b) < 1e-6, `${a} is not ${b}`);
const first = (values) => values.item(0);

async function refused(call, what) {
  try {
    await call;
  } catch (error) {
    return;
  }
  assert.fail(`${what} was not refused`);
}

async function main() {
  const connection = await TCPConnection.connect({ host: '127.0.0.1', port: Number(port) });
  connection.set_keepalive_interval(1);
  const device = new RemoteDevice(connection);

  assert.strictEqual(await device.DeviceManager.GetOcaVersion(), 1);
  assert.ok((await device.DeviceManager.GetDeviceName()).length > 0);
  const objects = await device.get_role_map('/');
  const at = (role) => {
    const object = objects.get(`Output 2/${role}`);
    assert.ok(object, `there is no ${role}`);
    return object;
  };

  await at('Gain').SetGain(-4.5);
  nearly(first(await at('Gain').GetGain()), -4.5);
  await refused(at('Gain').SetGain(1000), 'a gain beyond the range');
  await at('Mute').SetState(Types.OcaMuteState.Muted);
  assert.deepStrictEqual(await at('Mute').GetState(), Types.OcaMuteState.Muted);
  await at('Mute').SetState(Types.OcaMuteState.Unmuted);
  await at('Polarity').SetState(Types.OcaPolarityState.Inverted);
  assert.deepStrictEqual(await at('Polarity').GetState(), Types.OcaPolarityState.Inverted);
  await at('Delay').SetDelayTime(0.125);
  nearly(first(await at('Delay').GetDelayTime()), 0.125);

  const filter = at('Filter 3');
  await filter.SetShape(Types.OcaParametricEQShape.PEQ);
  await filter.SetFrequency(250);
  await filter.SetWidthParameter(2);
  await filter.SetInbandGain(-6);
  assert.deepStrictEqual(await filter.GetShape(), Types.OcaParametricEQShape.PEQ);
  nearly(first(await filter.GetFrequency()), 250);
  nearly(first(await filter.GetWidthParameter()), 2);
  nearly(first(await filter.GetInbandGain()), -6);
  await filter.SetMultiple(0xffff, 500, Types.OcaParametricEQShape.HighShelv, 0.75, 3, 0);
  assert.deepStrictEqual(await filter.GetShape(), Types.OcaParametricEQShape.HighShelv);
  nearly(first(await filter.GetInbandGain()), 3);

  const pass = at('Pass 1');
  await pass.SetMultiple(0xffff, 90, Types.OcaFilterPassband.LowPass,
                         Types.OcaClassicalFilterShape.Bessel, 3, 0);
  assert.deepStrictEqual(await pass.GetPassband(), Types.OcaFilterPassband.LowPass);
  assert.strictEqual(first(await pass.GetOrder()), 3);

  const section = at('Section 1');
  await section.SetCoefficients([0.5, 0.25, 0.125], [1, -0.5, 0.25]);
  const coefficients = await section.GetCoefficients();
  assert.deepStrictEqual([coefficients.item(0), coefficients.item(1)],
                         [[0.5, 0.25, 0.125], [1, -0.5, 0.25]]);
  assert.strictEqual(await section.GetMaxOrder(), 2);
  await refused(section.SetCoefficients([1, 2, 3, 4], [1]), 'an order beyond the greatest');

  const fir = at('FIR');
  const taps = Array.from({ length: 1024 }, (_, n) => (n % 16) / 64);
  await fir.SetCoefficients(taps);
  assert.deepStrictEqual(await fir.GetCoefficients(), taps);
  assert.strictEqual(first(await fir.GetLength()), taps.length);

  const heard = new Promise((resolve) => at('Gain').OnGainChanged.subscribe(resolve));
  await at('Gain').GetGain(); // the subscription is there
  await at('Gain').SetGain(-7.5);
  nearly(await Promise.race([heard, new Promise((_, no) => setTimeout(no, 3000, 'not told'))]),
         -7.5);
  assert.ok(first(await at('Level').GetReading()) >= -200);

  connection.close();
  console.log('all as wanted');
}

main().then(() => process.exit(0), (error) => {
  console.error(error);
  process.exit(1);
});
