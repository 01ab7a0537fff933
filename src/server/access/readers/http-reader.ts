import { askJson, type JsonAnswer } from '../../http/ask-json.ts';
import { AskError, reachable } from '../../http/checked-request.ts';
import type { Settings } from '../../settings.ts';
import { ReaderError } from './reader.ts';

/** A server that is asked with a token, looked up once. */
export class TokenServer {
  private constructor(
    readonly base: URL,
    readonly connectTo: string,
    readonly token: string,
  ) {}

  /** Throws a ReaderError for one that may not be asked. */
  static async at(settings: Settings, url: string, token: string): Promise<TokenServer> {
    const base = new URL(url.endsWith('/') ? url : `${url}/`);
    return new TokenServer(base, await reachable(settings, base).catch(asReaderError), token);
  }

  /** Any answer. Throws a ReaderError where there is none, and where the token opens nothing. */
  async ask(
    path: string | URL,
    asking: Parameters<typeof askJson>[2] = {},
  ): Promise<JsonAnswer & { readonly url: URL }> {
    const url = typeof path === 'string' ? new URL(path, this.base) : path;
    const answer = await askJson(url, this.connectTo, {
      ...asking,
      headers: { ...asking.headers, authorization: `Bearer ${this.token}` },
    }).catch(asReaderError);
    if (answer.status === 401 || answer.status === 403)
      throw new ReaderError(`${url.host} does not take this token.`);
    return { ...answer, url };
  }
}

export function asReaderError(error: unknown): never {
  if (error instanceof AskError) throw new ReaderError(error.message);
  throw error;
}
