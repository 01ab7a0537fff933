import { randomBytes } from 'node:crypto';
import type { Server } from 'node:http';
import type { AddressInfo } from 'node:net';
import type { ChoiceArriving } from '../../../src/core/websites/notice/consent.ts';
import type { Context } from '../../../src/server/context.ts';
import { guardedServer } from '../../../src/server/processes/guarded-server.ts';
import { VisitorService } from '../../../src/server/websites/visitor/visitor-service.ts';
import { shownToken } from '../../../src/server/websites/visitor/shown-token.ts';

/** The visitor service of a context on a port of its own, and what a browser would send to it. */
export class RunningVisitor {
  private constructor(
    readonly ctx: Context,
    readonly service: VisitorService,
    readonly server: Server,
  ) {}

  static async start(ctx: Context): Promise<RunningVisitor> {
    const service = new VisitorService(ctx, {
      ...{
        script: 'SCRIPT',
        holds: 'HELD;',
        panel: 'PANEL',
        preview: 'PREVIEW',
        tcf: 'FRAMEWORK',
        tcfStub: 'STUB;',
      },
    });
    const server = guardedServer('visitor', { headMs: 2000, wholeMs: 2000 }, (q, r) => service.answer(q, r));
    await new Promise<void>((ready) => server.listen(0, '127.0.0.1', ready));
    return new RunningVisitor(ctx, service, server);
  }

  get port(): number {
    return (this.server.address() as AddressInfo).port;
  }

  get origin(): string {
    return `http://127.0.0.1:${this.port}`;
  }

  /** A choice as the script would send it now. */
  choice(siteKey: string, over: Partial<ChoiceArriving> = {}): ChoiceArriving {
    const version = over.version ?? 1;
    return {
      version,
      allowed: ['measurement'],
      language: 'en',
      visitorKey: randomBytes(16).toString('hex'),
      choiceKey: randomBytes(16).toString('hex'),
      shown: shownToken(this.ctx.settings.SECRET_KEY, siteKey, version, this.ctx.now()),
      ...over,
    };
  }

  send(site: { siteKey: string; host: string }, body: unknown, headers: Record<string, string> = {}) {
    return fetch(`${this.origin}/${site.siteKey}/choices`, {
      method: 'POST',
      body: typeof body === 'string' ? body : JSON.stringify(body),
      headers: { origin: `https://${site.host}`, ...headers },
    });
  }

  async receiptOf(answer: Response): Promise<{ id: string; act: string; allowed: string[]; region: string }> {
    return ((await answer.json()) as { receipt: never }).receipt;
  }

  stop(): void {
    this.server.closeAllConnections();
    this.server.close();
  }
}
