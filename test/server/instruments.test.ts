import { createServer, type Server, type Socket } from 'node:net';
import type { AddressInfo } from 'node:net';
import { expect } from 'chai';
import { isOwnAddress, ownAddress } from '../../src/server/instruments/address.ts';
import { InstrumentError, ScpiClient } from '../../src/server/instruments/scpiClient.ts';
import { Instruments } from '../../src/server/instruments/channel.ts';
import { Rack } from '../../src/standins/rack.ts';
import {
  answer,
  type InstrumentName,
  INSTRUMENTS,
  matches,
  SILENCE,
} from '../../src/standins/scpi.ts';
import { ScpiSession } from '../../src/standins/session.ts';
import { serveRack } from '../../src/standins/servers.ts';

/** An instrument that answers each line as the test says. */
async function odd(
  reply: (line: string, socket: Socket, n: number) => void,
): Promise<{ server: Server; client: ScpiClient; lines: string[] }> {
  const lines: string[] = [];
  const server = createServer((socket) => {
    socket.setEncoding('utf8');
    socket.on('error', () => socket.destroy());
    socket.on('data', (chunk: string) => {
      for (const line of chunk.split('\n').filter(Boolean)) {
        lines.push(line);
        reply(line, socket, lines.length);
      }
    });
  });
  await new Promise<void>((resolve) => server.listen(0, '127.0.0.1', resolve));
  return {
    server,
    client: new ScpiClient('127.0.0.1', (server.address() as AddressInfo).port, TIMEOUT_MS),
    lines,
  };
}

async function fails(work: Promise<unknown>): Promise<string> {
  try {
    await work;
  } catch (error) {
    expect(error).to.be.instanceOf(InstrumentError);
    return (error as Error).message;
  }
  throw new Error('It did not fail.');
}

const TIMEOUT_MS = 80;
const wait = (ms: number) => new Promise((resolve) => setTimeout(resolve, ms));

describe('speaking with an instrument', () => {
  const opened: { server: Server; client: ScpiClient }[] = [];
  const open = async (reply: Parameters<typeof odd>[0]) => {
    const one = await odd(reply);
    opened.push(one);
    return one;
  };
  afterEach(() => {
    for (const { server, client } of opened.splice(0)) {
      client.close();
      server.close();
    }
  });

  it('asks one question at a time and gets its own answer, however many ask', async () => {
    const { client } = await open((line, socket) =>
      setTimeout(() => socket.write(`${line.replace('ECHO? ', '')}\n`), Math.random() * 5),
    );
    const answers = await Promise.all(
      Array.from({ length: 30 }, (_, i) => client.ask(`ECHO? ${i}`)),
    );
    expect(answers).to.deep.equal(Array.from({ length: 30 }, (_, i) => String(i)));
  });

  it('says what makes no sense', async () => {
    const { client } = await open((_, socket, n) =>
      socket.write(['banana\n', '12.4;;\n', '9.91E37\n', '12.4\n', '12.4;1.0\n'][n - 1] ?? '\n'),
    );
    expect(await fails(client.numbers('MEAS:VOLT?', 1)))
      .to.contain('its answer makes no sense')
      .and.not.contain('banana');
    expect(await fails(client.numbers('MEAS:VOLT?', 1))).to.contain('makes no sense');
    expect(await fails(client.numbers('MEAS:VOLT?', 1))).to.contain('makes no sense');
    expect(await fails(client.numbers('MEAS:VOLT?;:MEAS:CURR?', 2))).to.contain('makes no sense');
    expect(await client.numbers('MEAS:VOLT?;:MEAS:CURR?', 2)).to.deep.equal([12.4, 1]);
  });

  it('a late answer is never taken for the next question’s', async () => {
    const { client } = await open(
      (_, socket, n) => void setTimeout(() => socket.write(`${n}\n`), n === 1 ? 150 : 0),
    );
    expect(await fails(client.ask('FIRST?'))).to.contain('did not answer');
    await wait(120);
    expect(await client.ask('SECOND?')).to.equal('2');
  });

  it('an answer given twice counts once', async () => {
    const { client } = await open((_, socket, n) => socket.write(`${n}\n${n}\n`));
    for (const n of ['1', '2', '3']) {
      expect(await client.ask('X?')).to.equal(n);
      await wait(5);
    }
  });

  it('silence, a cut line and endless talk end in a sentence, and the next question begins anew', async () => {
    const { client } = await open((_, socket, n) => {
      if (n === 2) socket.destroy();
      else if (n === 3) socket.write('x'.repeat(10_000));
      else if (n === 4) socket.write('fine\n');
    });
    expect(await fails(client.ask('A?'))).to.contain('did not answer');
    expect(await fails(client.ask('B?'))).to.contain('cut');
    expect(await fails(client.ask('C?'))).to.match(/without end/);
    expect(await client.ask('D?')).to.equal('fine');
  });

  it('takes off what this process itself stood still: an answer that lies there is read', async () => {
    const { client } = await open((_, socket) => socket.write('here\n'));
    expect(await client.ask('A?')).to.equal('here');
    const asked = client.ask('B?');
    // It is asked; its answer cannot be read before this process goes on.
    for (let turn = 0; turn < 50; turn++) await Promise.resolve();
    // Long after its time is up: nothing was read meanwhile, neither question nor answer.
    const until = performance.now() + 400;
    while (performance.now() < until);
    expect(await asked).to.equal('here');
  });

  it('one that is not there is left alone for a moment, then tried again', async () => {
    const client = new ScpiClient('127.0.0.1', 9, 80);
    expect(await fails(client.ask('*IDN?'))).to.contain('cannot be reached');
    const began = performance.now();
    expect(await fails(client.ask('*IDN?'))).to.contain('cannot be reached');
    expect(performance.now() - began).to.be.lessThan(20);
  });

  it('what has no end is cut off, asked for or not; and a dead one costs whoever waits for it one wait together', async () => {
    const flood = 'x'.repeat(64 * 1024);
    let sent = 0;
    let silences = 0;
    const { server, client } = await open((line, socket) => {
      if (line === 'FLOOD?') {
        socket.write(flood, () => (sent += flood.length));
        const timer = setInterval(
          () => (socket.destroyed ? clearInterval(timer) : socket.write(flood)),
          1,
        );
      } else if (line === 'LATER?') {
        socket.write('1\n');
        setTimeout(() => socket.write(flood), 5);
      } else if (line === 'ONE?') socket.write('1\n');
      else if (line === 'SILENCE?') silences += 1;
    });
    expect(await fails(client.ask('FLOOD?'))).to.contain('talks without end');
    expect(await client.ask('LATER?')).to.equal('1');
    await new Promise((resolve) => setTimeout(resolve, 30));
    expect(
      await new Promise((resolve) => server.getConnections((_error, count) => resolve(count))),
      'an idle line that floods is closed',
    ).to.equal(0);
    expect(await client.ask('ONE?')).to.equal('1');
    const began = performance.now();
    const all = await Promise.all(Array.from({ length: 8 }, () => fails(client.ask('SILENCE?'))));
    expect(new Set(all).size).to.equal(1);
    // Each by itself would have asked it, and waited eight times.
    expect(silences).to.equal(1);
    expect(performance.now() - began).to.be.below(8 * TIMEOUT_MS);
    expect(await client.ask('ONE?')).to.equal('1');
  });

  it('speaks only to this machine and the shop’s own net, by the address it has looked up', async () => {
    for (const own of [
      '127.0.0.1',
      '127.8.9.1',
      '10.1.2.3',
      '172.16.0.9',
      '172.31.255.1',
      '192.168.1.20',
      '::1',
      'fd12:3456::1',
      '::ffff:192.168.0.5',
    ])
      expect(isOwnAddress(own), own).to.equal(true);
    for (const foreign of [
      '169.254.169.254',
      'fe80::1',
      '8.8.8.8',
      '172.32.0.1',
      '100.64.0.1',
      '0.0.0.0',
      '224.0.0.1',
      '2001:db8::1',
      '::ffff:169.254.1.1',
      '::',
      'localhost',
    ])
      expect(isOwnAddress(foreign), foreign).to.equal(false);
    expect(await ownAddress('localhost')).to.be.oneOf(['127.0.0.1', '::1']);
    expect(await ownAddress('169.254.1.1').catch((error: Error) => error.message)).to.contain(
      'own net',
    );
    expect(await fails(new ScpiClient('169.254.1.1', 5025, TIMEOUT_MS).ask('*IDN?'))).to.contain(
      'not an address of the shop’s own net',
    );
  });

  it('numbers are decimal, and of a size that something on a bench has', async () => {
    const answers = ['0x1F', '1e29', '9.91E37', 'inf', '12,5', '1e3', ' +4.5e-1 '];
    const { client } = await open((_line, socket) => socket.write(`${answers.shift()}\n`));
    for (let i = 0; i < 5; i++)
      expect(await fails(client.numbers('MEAS:VOLT?', 1))).to.contain('makes no sense');
    expect(await client.numbers('MEAS:VOLT?', 1)).to.deep.equal([1000]);
    expect(await client.numbers('MEAS:VOLT?', 1)).to.deep.equal([0.45]);
  });

  it('trying a connection says what a supply lacks to be trusted, in words', async () => {
    const { server } = await open((line, socket) => {
      if (line === '*IDN?') socket.write('INVENTED,PLAIN SUPPLY,0,1.0\n');
      else if (line.includes('MEAS:VOLT?')) socket.write('12.5\n');
      else if (line.includes('MEAS:TEMP?')) socket.write('9.91E37\n');
    });
    const instruments = new Instruments(60);
    const { port } = server.address() as AddressInfo;
    const setting = {
      id: 'x',
      name: 'X',
      kind: 'charger' as const,
      host: '127.0.0.1',
      port,
      firstPlace: 1,
      outputs: 1,
      mostA: 5,
      mostV: 16,
      leastStartV: 2,
    };
    const tried = await instruments.tryOut(setting);
    expect(tried.ok).to.equal(false);
    expect(tried.lines).to.deep.equal([
      'INVENTED,PLAIN SUPPLY,0,1.0',
      'Output 1 reads 12.50 V.',
      'It senses no temperature: charge by hand here, with readings.',
      'It has no watchdog: if this server died, its output would stay on.',
    ]);
  });
});

describe('the stand-ins', () => {
  const clock = { bench: 0, machine: 0 };
  const makeRack = () => {
    clock.bench = 0;
    clock.machine = 0;
    const rack = new Rack(3, { bench: () => clock.bench, machine: () => clock.machine });
    rack.clip(1, {
      tag: 'A',
      chemistry: 'agm',
      c20Ah: 12,
      cells: 6,
      charge: 0.5,
      temperatureC: 20,
    });
    return rack;
  };

  it('know headers in their short and long forms, and no others', () => {
    for (const header of ['MEAS:VOLT?', 'MEASURE:VOLTAGE?', 'MEAS:SCAL:VOLT:DC?', 'meas:volt:dc?'])
      expect(matches('MEASure[:SCALar]:VOLTage[:DC]?', header), header).to.equal(true);
    for (const header of ['MEAS:VOLT', 'MEASU:VOLT?', 'VOLT?', 'MEAS:VOLT:AC?', 'MEAS?'])
      expect(matches('MEASure[:SCALar]:VOLTage[:DC]?', header), header).to.equal(false);
    expect(matches('OUTPut[:STATe]', 'OUTP:STAT')).to.equal(true);
  });

  it('every one of them answers what any instrument answers', () => {
    const rack = new Rack(2, { bench: () => 0, machine: () => 0 });
    for (const name of Object.keys(INSTRUMENTS) as InstrumentName[]) {
      const session = new ScpiSession();
      const ask = (line: string) => answer(name, rack, session, line);
      expect(ask('*IDN?'), name).to.match(/^CORK EMBER STAND-IN,[A-Z -]+,0,1\.0$/);
      expect(
        [ask('*OPC?'), ask('*TST?'), ask('SYST:VERS?'), ask('*WAI'), ask('*RST')],
        name,
      ).to.deep.equal(['1', '0', '1999.0', null, null]);
      // A command error sets its event, the event its summary, the summary the request for service.
      expect(ask('*ESE 32;*SRE 32;*ESE?;*SRE?'), name).to.equal('32;32');
      expect(ask('*STB?'), name).to.equal('0');
      ask('NO:SUCH:THING');
      expect(ask('*STB?'), name).to.equal(String(4 + 32 + 64));
      expect(ask('SYST:ERR:COUN?'), name).to.equal('1');
      expect(ask('*ESR?'), name).to.equal('32');
      expect([ask('*ESR?'), ask('*STB?')], name).to.deep.equal(['0', '4']);
      expect([ask('SYSTem:ERRor?'), ask('SYST:ERR?')], name).to.deep.equal([
        '-113,"Undefined header"',
        '0,"No error"',
      ]);
      ask('*OPC');
      expect(ask('*ESR?'), name).to.equal('1');
      for (let i = 0; i < 30; i++) ask('NO:SUCH');
      expect(ask('SYST:ERR:COUN?'), name).to.equal('20');
      ask('*CLS');
      expect([ask('*STB?'), ask('SYST:ERR?'), ask('*ESE?')], name).to.deep.equal([
        '0',
        '0,"No error"',
        '32',
      ]);
    }
  });

  it('errors are told to the connection that made them, and say which kind', () => {
    const rack = new Rack(2, { bench: () => 0, machine: () => 0 });
    const [mine, other] = [new ScpiSession(), new ScpiSession()];
    for (const line of ['VOLT', 'VOLT many', 'VOLT 99', 'OUTP PERHAPS', 'INST:NSEL 7'])
      answer('charger', rack, mine, line);
    const errors = Array.from({ length: 6 }, () => answer('charger', rack, mine, 'SYST:ERR?'));
    expect(errors.map((e) => Number(String(e).split(',')[0]))).to.deep.equal([
      -109, -104, -222, -224, -222, 0,
    ]);
    expect(answer('charger', rack, other, 'SYST:ERR?')).to.equal('0,"No error"');
  });

  it('takes long forms, limits by name, units, and headers that go on from the one before', () => {
    const rack = new Rack(2, { bench: () => 0, machine: () => 0 });
    const session = new ScpiSession();
    const ask = (line: string) => answer('charger', rack, session, line);
    ask('SOURce:VOLTage:LEVel:IMMediate:AMPLitude 14.4 V;:SOUR:CURR:LEV 1.2A');
    for (const header of [
      'VOLT?',
      'VOLTage:LEVel?',
      'sour:volt:lev:imm:ampl?',
      ':VOLTage:AMPLitude?',
    ])
      expect(ask(header), header).to.equal('14.4');
    expect(ask('CURR?;CURR? MAX;CURR? MINimum')).to.equal('1.2;60;0');
    expect(ask('VOLT MAX;VOLT?')).to.equal('33');
    expect(ask('MEAS:VOLT?;CURR?;TEMP?')).to.match(/^[-\d.]+;[-\d.]+;[-\d.]+$/);
    ask('OUTP ON;*RST');
    expect(ask('OUTP?;VOLT?;CURR?')).to.equal('0;0;0');
    expect(ask('SYST:ERR?')).to.equal('0,"No error"');
  });

  it('answer several commands in a line, and keep errors until they are asked for', () => {
    const rack = makeRack();
    const session = new ScpiSession();
    expect(
      answer('charger', rack, session, 'INST:NSEL 1;:VOLT 14.4;:CURR 1.2;:OUTP ON;:OUTP?;:VOLT?'),
    ).to.equal('1;14.4');
    expect(answer('charger', rack, session, 'VOLT 99')).to.equal(null);
    expect(answer('charger', rack, session, 'NONSENSE 1')).to.equal(null);
    expect(answer('charger', rack, session, 'SYST:ERR?')).to.equal('-222,"Data out of range"');
    expect(answer('charger', rack, session, 'SYST:ERR?')).to.equal('-113,"Undefined header"');
    expect(answer('charger', rack, session, 'SYST:ERR?')).to.equal('0,"No error"');
  });

  it('charge a battery in bench time and switch off in machine time when nobody speaks to them', () => {
    const rack = makeRack();
    const session = new ScpiSession();
    answer(
      'charger',
      rack,
      session,
      'INST:NSEL 1;:VOLT 14.4;:CURR 1.2;:OUTP:PROT:WDOG:DEL 5;:OUTP ON',
    );
    const before = rack.measure(1).voltageV;
    clock.bench = 1_800_000;
    clock.machine = 4900;
    const after = rack.measure(1);
    expect(after.voltageV).to.be.greaterThan(before);
    expect(after.currentA).to.be.closeTo(1.2, 0.01);
    clock.machine = 5100;
    rack.advance();
    expect(rack.places[0]!.output).to.include({ on: false, tripped: 'watchdog' });
    expect(rack.measure(1).currentA).to.equal(0);
  });

  it('misbehave when told to', () => {
    const rack = makeRack();
    rack.set(1, { on: true, volts: 14.4, amps: 1.2 });
    const quiet = rack.measure(1);
    rack.setMischief(1, 'frozen', true);
    clock.bench = 60_000;
    expect(rack.measure(1)).to.equal(quiet);
    rack.setMischief(1, 'frozen', false);
    rack.setMischief(1, 'reversed', true);
    expect(rack.measure(1).voltageV).to.be.lessThan(-11);
    rack.setMischief(1, 'reversed', false);
    rack.setMischief(1, 'hot', true);
    clock.bench = 660_000;
    expect(rack.measure(1).temperatureC).to.be.greaterThan(28);
    rack.setMischief(1, 'hot', false);
    rack.setMischief(1, 'silent', true);
    expect(answer('charger', rack, new ScpiSession(), 'INST:NSEL 1;:MEAS:VOLT?')).to.equal(SILENCE);
    rack.setMischief(1, 'silent', false);
    rack.setMischief(1, 'short', true);
    clock.bench = 4_000_000;
    expect(rack.measure(1).voltageV).to.be.lessThan(quiet.voltageV);
  });

  it('show hand-held instruments the same battery, and nothing where there is none', () => {
    const rack = makeRack();
    const read = (name: 'meter' | 'hydrometer' | 'analyser' | 'scale', line: string) =>
      Number(answer(name, rack, new ScpiSession(), line) as string);
    expect(read('meter', 'MEAS:VOLT? (@1)')).to.be.within(12, 12.6);
    expect(read('hydrometer', 'MEAS:SG? (@1,3)')).to.be.within(1.12, 1.3);
    expect(read('analyser', 'MEAS:RES? (@1)')).to.be.within(5, 60);
    expect(read('analyser', 'MEAS:CCA? (@1)')).to.be.within(50, 600);
    expect(read('scale', 'MEAS:MASS? (@1)')).to.be.within(2000, 4000);
    expect(read('hydrometer', 'MEAS:SG? (@1,9)')).to.equal(9.91e37);
    expect(read('meter', 'MEAS:VOLT? (@9)')).to.equal(9.91e37);
  });

  it('keep their batteries when the process ends, and cut everything off with the power', async () => {
    const rack = makeRack();
    rack.set(1, { on: true, volts: 14.4, amps: 1.2 });
    clock.bench = 3_600_000;
    rack.advance();
    const truth = rack.measure(1).voltageV;
    const again = makeRack();
    again.restore(JSON.parse(JSON.stringify(rack.save())));
    expect(again.places[0]!.tag).to.equal('A');
    expect(again.places[0]!.output.on).to.equal(false);
    expect(Math.abs(again.measure(1).voltageV - truth)).to.be.lessThan(1.5);
    const servers = await serveRack(again, 0);
    again.set(1, { on: true });
    again.cutPower();
    servers.drop();
    expect(again.places[0]!.output.on).to.equal(false);
    await fails(new ScpiClient('127.0.0.1', servers.ports.charger, 80).ask('*IDN?'));
    await servers.close();
  });
});
