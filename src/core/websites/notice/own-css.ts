import { generate, lexer, parse, walk, type CssNode } from 'css-tree';

/** Properties that change how a notice looks, and none with which one answer could be hidden or made the lesser. */
const MAY = new Set(
  (
    'color background-color border border-top border-right border-bottom border-left border-color border-style ' +
    'border-width border-radius box-shadow font-family font-size font-style font-weight font-variant letter-spacing ' +
    'line-height text-align text-decoration text-transform text-underline-offset padding padding-top padding-right ' +
    'padding-bottom padding-left gap margin-top margin-bottom outline outline-offset accent-color'
  ).split(' '),
);

/** What the notice is made of, for those who style it. */
export const NOTICE_PARTS = [
  'section',
  'h2',
  'p',
  'a',
  'button',
  'summary',
  'details',
  'label',
  'input',
  'ul',
  'li',
  'strong',
];

export interface CssFault {
  /** 1-based. */
  readonly line: number;
  readonly words: string;
}

/**
 * What is wrong with an organisation's own style of the notice. It reaches nothing of the page, since the notice has a
 * style of its own; it may fetch nothing, and may not tell one answer from the other.
 */
export function cssFaults(css: string): readonly CssFault[] {
  const faults: CssFault[] = [];
  const tell = (node: CssNode, words: string) => faults.push({ line: node.loc?.start.line ?? 1, words });
  const tree = parse(css, {
    positions: true,
    onParseError: (error) =>
      faults.push({ line: error.line, words: `This cannot be read: ${error.message}` }),
  });
  walk(tree, (node) => {
    switch (node.type) {
      case 'Atrule':
        if (node.name !== 'media') tell(node, `@${node.name} is not for a notice; @media is`);
        break;
      case 'TypeSelector':
        if (!NOTICE_PARTS.includes(node.name))
          tell(node, `The notice has no “${node.name}”; it has ${NOTICE_PARTS.join(', ')}`);
        break;
      case 'ClassSelector':
      case 'IdSelector':
      case 'AttributeSelector':
        tell(
          node,
          'Style elements by their name: with a class or an attribute one answer could be told from the other',
        );
        break;
      case 'PseudoClassSelector':
        if (!/^(hover|focus|focus-visible|active|disabled|checked)$/.test(node.name))
          tell(node, `:${node.name} could tell one answer from the other`);
        break;
      case 'PseudoElementSelector':
        tell(node, `::${node.name} could add what no text says`);
        break;
      case 'Combinator':
        if (node.name === '+' || node.name === '~')
          tell(node, `${node.name} could tell one answer from the other`);
        break;
      case 'Url':
        tell(node, 'A notice fetches nothing');
        break;
      case 'Function':
        if (/^(url|image|image-set|element|attr|expression|env)$/i.test(node.name))
          tell(node, `${node.name}() is not for a notice`);
        break;
      case 'Declaration': {
        const name = node.property.toLowerCase();
        if (!MAY.has(name)) tell(node, `${node.property} is not for a notice`);
        else {
          const { error } = lexer.matchProperty(name, node.value);
          if (error) tell(node, `${node.property} takes no ${generate(node.value) || 'empty value'}`);
        }
        break;
      }
      default:
    }
  });
  return faults.toSorted((a, b) => a.line - b.line);
}
