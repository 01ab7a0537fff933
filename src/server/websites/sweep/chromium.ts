import { mkdir, mkdtemp, rm, writeFile } from 'node:fs/promises';
import { join } from 'node:path';
import { chromium, type BrowserContext } from 'playwright-core';

const FLAGS = [
  '--no-sandbox',
  '--disable-gpu',
  // Without a graphics card WebGL would not answer, as it does to every visitor.
  '--enable-unsafe-swiftshader',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
  '--disable-quic',
  '--no-first-run',
  '--mute-audio',
  '--disable-dev-shm-usage',
  // One renderer for a page and its frames, so that one session sees all of them. The profile is thrown away.
  '--disable-site-isolation-trials',
  '--disable-features=IsolateOrigins,site-per-process,Translate,MediaRouter,OptimizationHints,AutofillServerCommunication,ThirdPartyStoragePartitioning,HttpsUpgrades',
  '--proxy-bypass-list=<-loopback>',
];

/** Third-party cookies are let in, as the most permissive common browser does. */
const PREFERENCES = {
  profile: {
    cookie_controls_mode: 0,
    block_third_party_cookies: false,
    default_content_setting_values: { notifications: 2, geolocation: 2 },
  },
  privacy_sandbox: { m1: { topics_enabled: false } },
  download: { prompt_for_download: false, default_directory: '/dev/null' },
};

export interface Visit {
  readonly context: BrowserContext;
  close(): Promise<void>;
}

export interface LaunchOptions {
  readonly executable: string;
  readonly profiles: string;
  readonly proxy: string | undefined;
  readonly language?: string;
  readonly timeZone?: string;
  /** Sent with every request. */
  readonly headers?: Readonly<Record<string, string>>;
}

/** Starts Chromium with a clean profile of its own, deleted when it closes. */
export async function startVisit({
  executable,
  profiles,
  proxy,
  language = 'en-GB',
  timeZone = 'UTC',
  headers = {},
}: LaunchOptions): Promise<Visit> {
  await mkdir(profiles, { recursive: true });
  const profile = await mkdtemp(join(profiles, 'visit-'));
  await mkdir(join(profile, 'Default'), { recursive: true });
  await writeFile(join(profile, 'Default', 'Preferences'), JSON.stringify(PREFERENCES));
  try {
    const context = await chromium.launchPersistentContext(profile, {
      executablePath: executable,
      headless: true,
      args: [...FLAGS, ...(proxy ? [`--proxy-server=${proxy}`] : [])],
      // Windows that a page opens by itself are held back, as in a visitor's browser.
      ignoreDefaultArgs: ['--disable-back-forward-cache', '--disable-popup-blocking'],
      acceptDownloads: false,
      locale: language,
      timezoneId: timeZone,
      extraHTTPHeaders: { ...headers },
      viewport: { width: 1280, height: 800 },
      serviceWorkers: 'allow',
      handleSIGINT: false,
      handleSIGTERM: false,
      timeout: 60_000,
    });
    return { context, close: () => closeVisit(context, profile) };
  } catch (error) {
    await rm(profile, { recursive: true, force: true });
    throw error;
  }
}

async function closeVisit(context: BrowserContext, profile: string): Promise<void> {
  await Promise.race([context.close().catch(() => {}), new Promise((done) => setTimeout(done, 8000))]);
  await rm(profile, { recursive: true, force: true, maxRetries: 5, retryDelay: 100 }).catch(() => {});
}
