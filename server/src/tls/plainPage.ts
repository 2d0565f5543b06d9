import { createServer, type Server } from 'node:http';

const page = (address: string): string => `<!doctype html>
<html lang="en">
<meta charset="utf-8">
<meta name="viewport" content="width=device-width">
<title>Katharos: the way in</title>
<style>
  body { font: 17px/1.5 system-ui, sans-serif; max-width: 34em; margin: 2em auto; padding: 0 1em; color: #14262b; background: #f2f5f4 }
  a { color: inherit; font-weight: 600 }
</style>
<h1>Katharos is at <a href="${address}">${address}</a></h1>
<p>This page is not safe from being read on the way, so nothing of the firm is on it: a browser lets no page that is opened
so keep what you type or take photographs.</p>
<p>A device has to know the firm’s own authority once, or it will warn of the address above:</p>
<ol>
<li><a href="/authority.crt">Fetch the authority’s certificate</a> on the device.</li>
<li>Install it. On a phone: in the settings, under security or general, look for certificates or profiles; install it there
as an authority (on some phones it must then be trusted in a second place, under “about”). On a computer: open the file and put it
among the trusted authorities.</li>
<li>Open <a href="${address}">${address}</a>. No warning comes any more.</li>
</ol>
<p>Ask the owner of the firm whether the first letters of its fingerprint are the ones that stood in the terminal when
Katharos was started. Install it on devices of the firm only, and take it off those that leave it.</p>
`;

/**
 * What is to be had over plain HTTP: the way to the safe address, and the public part of the authority that vouches for it.
 * Nothing of the firm, and no way to write.
 */
export function plainPage(address: string, authority: string): Server {
  return createServer((req, res) => {
    res.setHeader('X-Content-Type-Options', 'nosniff');
    res.setHeader('Content-Security-Policy', "default-src 'none'; style-src 'unsafe-inline'");
    if (req.method !== 'GET' && req.method !== 'HEAD') res.writeHead(405).end();
    else if (req.url === '/authority.crt')
      res.writeHead(200, { 'Content-Type': 'application/x-x509-ca-cert', 'Content-Disposition': 'attachment; filename="katharos-authority.crt"' }).end(authority);
    else res.writeHead(req.url === '/' ? 200 : 404, { 'Content-Type': 'text/html; charset=utf-8' }).end(page(address));
  });
} // oxfmt-ignore
