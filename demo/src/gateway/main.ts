import { readFileSync } from 'node:fs';
import type { AddressInfo } from 'node:net';
import { Command } from 'commander';
import { createGateway } from './gateway.js';
import { DecidingService } from './service.js';

interface Given {
  readonly service: string;
  readonly gate: string;
  readonly keyFile: string;
  readonly port: string;
}

const program = new Command('demo:gateway')
  .description('A gateway with made-up sites behind it: open a page as a probe, and see what the rules in force do.')
  .option('--service <url>', 'the service that decides', 'http://127.0.0.1:7440')
  .option('--gate <url>', 'where it decides for gateways', 'http://127.0.0.1:7441')
  .requiredOption('--key-file <file>', 'the file with its access key, or with a token of an administrator')
  .option('--port <number>', 'where to listen, on 127.0.0.1', '7480')
  .action(({ service, gate, keyFile, port }: Given) => {
    const app = createGateway(
      new DecidingService({ url: service, gateUrl: gate }, readFileSync(keyFile, 'utf8').trim()),
    );
    const server = app.listen(Number(port), '127.0.0.1', () => {
      console.log(`The garden's gate: http://127.0.0.1:${(server.address() as AddressInfo).port}`);
    });
  });

program.parse();
