/** A bare handler of Express with a JSON body, as a process of its own: the floor of the decision endpoint. */
import express from 'express';

const app = express();
app.post('/decide', express.json(), (request, response) => {
  response.json({ verdict: 'allow', host: (request.body as { host?: string } | undefined)?.host });
});
const server = app.listen(0, '127.0.0.1', () => {
  console.log((server.address() as { port: number }).port);
});
