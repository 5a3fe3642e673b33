// Takes what it is sent, and says at / how much that was; what comes to /never is never answered.
import { createServer } from 'node:http';

let count = 0;
createServer((request, response) => {
  if (request.url === '/') return response.end(String(count));
  request.resume().on('end', () => {
    if (request.url === '/never') return;
    count += 1;
    response.writeHead(204).end();
  });
}).listen(0, '127.0.0.1', function () {
  console.log(`The receiver is ready at http://127.0.0.1:${this.address().port}`);
});
