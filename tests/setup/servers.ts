import { type ChildProcess, spawn } from 'node:child_process';
import { once } from 'node:events';
import { writeFileSync } from 'node:fs';
import { createServer } from 'node:http';
import { type AddressInfo, connect } from 'node:net';
import { setTimeout as sleep } from 'node:timers/promises';

/** A port that is free now. */
export async function freePort(): Promise<number> {
  const server = createServer();
  await new Promise<void>((done) => server.listen(0, '127.0.0.1', done));
  const { port } = server.address() as AddressInfo;
  await new Promise((done) => server.close(done));
  return port;
}

/** The servers of one test file, which have one folder as their home and end together. */
export class Servers {
  readonly #home: string;
  readonly #running: ChildProcess[] = [];

  constructor(home: string) {
    this.#home = home;
  }

  /** Starts a program, and waits until it listens at the port. What it prints is added to `out`. */
  async start(program: string, args: readonly string[], port: number, out?: string): Promise<void> {
    const env = { ...process.env, HOME: this.#home, XDG_DATA_HOME: this.#home, XDG_CONFIG_HOME: this.#home };
    const child = spawn(program, args, { env, stdio: ['ignore', 'pipe', 'pipe'] });
    this.#running.push(child);
    let words = '';
    child.stderr.on('data', (piece) => {
      words += piece;
    });
    child.stdout.on('data', (piece) => {
      if (out !== undefined) writeFileSync(out, piece, { flag: 'a' });
    });
    for (const until = Date.now() + 20_000; Date.now() < until; await sleep(50)) {
      if (child.exitCode !== null) throw new Error(`${program} ended: ${words}`);
      const socket = connect(port, '127.0.0.1');
      const isUp = await new Promise((done) =>
        socket.once('connect', () => done(true)).once('error', () => done(false)),
      );
      socket.destroy();
      if (isUp) return;
    }
    throw new Error(`${program} does not listen: ${words}`);
  }

  /** Ends all that run, and waits until they have. */
  async end(): Promise<void> {
    for (const child of this.#running.splice(0)) {
      if (child.exitCode !== null || child.signalCode !== null) continue;
      child.kill('SIGTERM');
      await once(child, 'exit');
    }
  }
}
