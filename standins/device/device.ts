import type { IncomingMessage, ServerResponse } from 'node:http';
import { readBody, send } from '../answer.ts';

export const DEVICE_HOST = 'device.localhost';
const MOST_SENT = 2_000_000;

/** A device in the browser: a page with an agent, whose one way out is to the desk. */
export function device(options: { readonly deskOrigin: string; readonly script: () => Promise<string> }) {
  return async (request: IncomingMessage, response: ServerResponse, url: URL): Promise<void> => {
    if (url.pathname === '/device.js') return send(response, 'text/javascript', await options.script());
    if (url.pathname.startsWith('/desk/')) return passOn(request, response, url);
    if (url.pathname !== '/') return send(response, 'text/plain', 'There is nothing here.', 404);
    return send(response, 'text/html; charset=utf-8', PAGE);
  };

  async function passOn(request: IncomingMessage, response: ServerResponse, url: URL): Promise<void> {
    const path = url.pathname.slice('/desk/'.length);
    if (!['enrol', 'bundle', 'events', 'evidence', 'returns'].includes(path))
      return send(response, 'text/plain', 'No.', 404);
    const body = request.method === 'POST' ? await readBody(request, MOST_SENT) : undefined;
    const answer = await fetch(`${options.deskOrigin}/interface/devices/${path}${url.search}`, {
      method: request.method ?? 'GET',
      headers: { authorization: request.headers.authorization ?? '' },
      ...(body === undefined ? {} : { body: new Uint8Array(body) }),
    });
    send(response, 'application/json', await answer.text(), answer.status);
  }
}

const PAGE = `<!doctype html><html lang="en"><head><meta charset="utf-8"><title>A device of the ferry line</title>
<meta name="viewport" content="width=device-width, initial-scale=1"><link rel="icon" href="data:,">
<style>
body{margin:0 auto;max-width:720px;padding:24px;font:16px/24px system-ui,sans-serif;color:#18262b;background:#fcfcf9}
form,#work{display:grid;gap:10px}label{display:grid;gap:3px}textarea{min-height:150px;font:14px/20px monospace}
input,select,textarea,button{padding:7px 9px;border:1px solid #75878b;border-radius:3px;background:#fff;color:inherit;font:inherit}
button{cursor:pointer}#do{background:#14403d;color:#fff}dialog{max-width:520px;border:1px solid #75878b;border-radius:4px;padding:20px}
.row{display:flex;flex-wrap:wrap;gap:10px;align-items:end}.row label{flex:1}[hidden]{display:none!important}.wrong{color:#a3175c}
</style></head><body>
<h1>A device of the ferry line</h1>
<p id="standing" role="status"></p>
<form id="in"><p>Made up: it stands in for an employee’s computer. Let it in with a token from the desk.</p>
<label>Token <input id="token" required autocomplete="off"></label>
<label>What it is called <input id="name" required value="LT-2001"></label>
<label>Whose it is <input id="person" required type="email" value="jonas.ekdal@brindlestrait.example"></label>
<button>Let it in</button></form>
<div id="work" hidden>
<div class="row"><label>A file <select id="file"></select></label><label>You read <select id="language"></select></label>
<label><span><input type="checkbox" id="online" checked> on the network</span></label></div>
<label>What is in it <textarea id="text"></textarea></label>
<div class="row"><label>Somebody <select id="way"></select></label><label>Towards <select id="place"></select></label></div>
<div class="row"><button id="do" type="button">Do it</button><button id="refresh" type="button">Take rules, tell what waits</button></div>
</div>
<p id="said" role="status"></p>
<ul id="answers"></ul>
<dialog id="notice" aria-labelledby="says"><form method="dialog">
<h2 id="says"></h2><p>Rule: <b id="rule"></b>. Found:</p><ul id="found"></ul>
<label>Your reason, or what you ask <input id="reason" maxlength="400" autocomplete="off"></label><p id="why" class="wrong" role="alert"></p>
<div class="row"><button value="leave">Leave it</button><button value="on" id="goOn">Go on</button><button value="ask" id="askOfficer">Ask the officer</button><button value="false">This is a false alarm</button></div>
</form></dialog>
<script type="module" src="/device.js"></script></body></html>`;
