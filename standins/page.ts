import type { PlacedTag, SitePage, StandinSite } from './site.ts';

interface Rendering {
  readonly port: string;
  readonly snippet: string | undefined;
  readonly visitorOrigin: string;
  readonly held: ReadonlyMap<string, string | null>;
}

export function renderPage(site: StandinSite, page: SitePage, r: Rendering): string {
  const tags = (place: PlacedTag['place']) =>
    site.tags
      .filter((t) => t.place === place && t.on(page.path))
      .map((t) => renderTag(t, r.held.get(t.id) ?? null, r.port))
      .join('\n');
  const around = site.pages.indexOf(page);
  const next = [1, 2, 3, 5, 8, 13].map((n) => site.pages[(around + n) % site.pages.length] as SitePage);
  const link = (p: SitePage) => `<a href="${p.path}">${escape(p.title)}</a>`;
  return `<!doctype html>
<html lang="en"><head><meta charset="utf-8"><title>${escape(page.title)}</title>
<meta name="viewport" content="width=device-width, initial-scale=1">
${r.snippet ? `<script src="${r.visitorOrigin}/${r.snippet}.js"></script>` : ''}
<link rel="stylesheet" href="/site.css"><link rel="icon" href="data:,">
${tags('head')}
</head><body><header><strong>${escape(site.name)}</strong> <nav>${site.pages.slice(0, 5).map(link).join(' ')}</nav></header>
<main><h1>${escape(page.title)}</h1><p>${escape(page.text)}</p>
<ul>${next.map((p) => `<li>${link(p)}</li>`).join('')}</ul>
${(site.extras?.(page) ?? '').replaceAll('{port}', r.port)}
${tags('main')}</main>
<footer><a href="/privacy">Privacy</a> ${r.snippet ? '<button type="button" data-yare-open>Privacy choice</button>' : ''}</footer>
${site.script ? '<script src="/site.js"></script>' : ''}
${tags('end')}
</body></html>`;
}

function renderTag(tag: PlacedTag, held: string | null, port: string): string {
  const src = `//${tag.src.replace('/', `:${port}/`)}`.replaceAll('{port}', port);
  const marked = held ? ` data-yare-purpose="${held}" data-yare-` : ' ';
  switch (tag.kind) {
    case 'script':
      return held
        ? `<script type="text/plain" data-yare-purpose="${held}" src="${src}"></script>`
        : `<script src="${src}"></script>`;
    case 'frame':
      return `<iframe class="map" title="${tag.words}"${marked}src="${src}"></iframe>`;
    case 'picture':
      return `<img alt=""${marked}src="${src}">`;
    case 'link':
      return `<a${held ? ` href="${tag.direct}"` : ''}${marked}href="${src}">${tag.words}</a>`;
  }
}

export function sitemap(site: StandinSite, origin: string): string {
  const urls = site.pages.map((p) => `<url><loc>${origin}${p.path}</loc></url>`).join('');
  return `<?xml version="1.0" encoding="UTF-8"?><urlset xmlns="http://www.sitemaps.org/schemas/sitemap/0.9">${urls}</urlset>`;
}

export function escape(text: string): string {
  return text.replace(/[&<>"']/g, (c) => `&#${c.charCodeAt(0)};`);
}
