import type { Block } from './statement.ts';

/** A statement as HTML, a part of a page: headings, paragraphs, lists and tables, and nothing that runs. */
export function statementHtml(blocks: readonly Block[], language: string): string {
  const parts = blocks.map((b) => {
    switch (b.is) {
      case 'heading':
        return `<h${b.level}>${escape(b.text)}</h${b.level}>`;
      case 'text':
        return `<p>${escape(b.text)}</p>`;
      case 'list':
        return `<ul>${b.items.map((i) => `<li>${escape(i)}</li>`).join('')}</ul>`;
      case 'table':
        return `<table><thead><tr>${cells('th', b.head)}</tr></thead><tbody>${b.rows.map((r) => `<tr>${cells('td', r)}</tr>`).join('')}</tbody></table>`;
    }
  });
  return `<article lang="${escape(language)}">\n${parts.join('\n')}\n</article>\n`;
}

function cells(name: 'td' | 'th', texts: readonly string[]): string {
  return texts.map((t) => `<${name}>${escape(t)}</${name}>`).join('');
}

function escape(text: string): string {
  return text.replace(/[&<>"']/g, (c) => `&#${c.charCodeAt(0)};`);
}

/** A statement as Markdown (CommonMark, with the tables that most of its readers know). */
export function statementMarkdown(blocks: readonly Block[]): string {
  return `${blocks
    .map((b) => {
      switch (b.is) {
        case 'heading':
          return `${'#'.repeat(b.level)} ${plain(b.text)}`;
        case 'text':
          return plain(b.text);
        case 'list':
          return b.items.map((i) => `- ${plain(i)}`).join('\n');
        case 'table':
          return [b.head, b.head.map(() => '---'), ...b.rows]
            .map((r) => `| ${r.map(plain).join(' | ')} |`)
            .join('\n');
      }
    })
    .join('\n\n')}\n`;
}

/** Text that means nothing but itself. */
function plain(text: string): string {
  return text
    .replace(/\s+/g, ' ')
    .replace(/[\\`*_[\]<>|#]/g, (c) => `\\${c}`)
    .replace(/^([-+]|\d+[.)]) /, '\\$1 ');
}
