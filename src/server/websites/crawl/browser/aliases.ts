import { Resolver } from 'node:dns/promises';

/** Looks up the canonical names of hosts (DNS CNAME), each once; what does not answer has none. */
export class Aliases {
  readonly #given: Resolver | undefined;
  readonly #machine = new Resolver({ timeout: 1500, tries: 1 });
  readonly #known = new Map<string, Promise<string>>();

  /** `server`: `address:port` of a name server to ask before the machine's own. */
  constructor(server?: string) {
    if (!server) return;
    this.#given = new Resolver({ timeout: 1500, tries: 1 });
    this.#given.setServers([server]);
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
      const next = (await ask(this.#given, at)) ?? (isLocal(at) ? undefined : await ask(this.#machine, at));
      if (!next) break;
      name = at = next.toLowerCase().replace(/\.$/, '');
    }
    return name;
  }
}

async function ask(resolver: Resolver | undefined, host: string): Promise<string | undefined> {
  const [alias] = (await resolver?.resolveCname(host).catch(() => [])) ?? [];
  return alias;
}

/** Loopback names are known to no name server but one that is given. */
function isLocal(host: string): boolean {
  return host === 'localhost' || host.endsWith('.localhost');
}
