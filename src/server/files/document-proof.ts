import type { Content } from 'pdfmake/interfaces.js';
import type { EntryProof } from '../../core/evidence/ledger.ts';
import { code, DIM, heading, paragraph } from './document.ts';

export interface Proved {
  /** SHA-256 of the export's canonical form, in hexadecimal. */
  readonly digest: string;
  readonly ledgerId: string | number | bigint;
  /** `undefined` until the ledger is sealed. */
  readonly proof: EntryProof | undefined;
  readonly matches: boolean;
}

/** The proof of a report that was made of a JSON export; `what` it is a report of. */
export function documentProof(what: string, { digest, ledgerId, proof, matches }: Proved): Content[] {
  const told = [
    heading('Proof'),
    paragraph(
      `This report was made from the JSON export of the ${what}. The SHA-256 of that export’s canonical form (RFC 8785) was written to the ledger when the ${what} ended:`,
      9,
    ),
    code(digest),
  ];
  if (!proof)
    return [
      ...told,
      paragraph(
        `Ledger entry ${ledgerId}. The ledger is sealed every few seconds; export again for the proof.`,
        9,
      ),
    ];
  return [
    ...told,
    paragraph(
      `Ledger entry ${ledgerId}, number ${proof.index} in tree ${proof.tree.number}, sealed ${instant(proof.tree.sealedAt)} UTC. ${matches ? 'The entry holds this digest.' : 'The entry does NOT hold this digest: the report was changed.'} Tree root, head after it, and path from the entry to the root (RFC 6962):`,
      9,
    ),
    ...[proof.tree.root, proof.tree.head, ...proof.path].map((hash) => code(hash, 7, DIM)),
  ];
}

/** A point of time as a document tells it: its day, hour and minute, UTC. */
export function instant(iso: string): string {
  return `${iso.slice(0, 10)} ${iso.slice(11, 16)}`;
}
