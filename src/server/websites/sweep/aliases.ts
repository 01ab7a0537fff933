import { Resolver } from 'node:dns/promises';

/** Looks up the canonical names of hosts (DNS CNAME), each once; what does not answer has none. */
export class Aliases {
  readonly #resolver: Resolver;
  readonly #known = new Map<string, Promise<string>>();

  /** `server`: `address` or `address:port` of a name server; the machine's own without it. */
  constructor(server?: string) {
    this.#resolver = new Resolver({ timeout: 1500, tries: 1 });
    if (server) this.#resolver.setServers([server]);
  }

  /** The last name of the chain; '' where the host is no alias. */
  canonical(host: string): Promise<string> {
    const known = this.#known.get(host) ?? this.#follow(host);
    this.#known.set(host, known);
    return known;
  }

  async #follow(host: string): Promise<string> {
    let name = '';
    for (let at = host, steps = 0; steps < 8; steps++) {
      const [next] = await this.#resolver.resolveCname(at).catch(() => []);
      if (!next) break;
      name = at = next.toLowerCase().replace(/\.$/, '');
    }
    return name;
  }
}
