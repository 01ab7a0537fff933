import { chromium, type BrowserContext } from 'playwright-core';
import { within } from '../../../processes/within.ts';
import { BROWSER_LIMITS, BrowserWatch } from './browser-watch.ts';
import { confine, makeVisitFolder, removeVisitFolder, type VisitFolder } from './confinement.ts';

const FLAGS = [
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
  // Calls between browsers would go past the proxy.
  '--force-webrtc-ip-handling-policy=disable_non_proxied_udp',
  '--renderer-process-limit=12',
];

/** Third-party cookies are let in, as the most permissive common browser does. */
const PREFERENCES = {
  profile: {
    cookie_controls_mode: 0,
    block_third_party_cookies: false,
    default_content_setting_values: { notifications: 2, geolocation: 2 },
  },
  webrtc: {
    ip_handling_policy: 'disable_non_proxied_udp',
    multiple_routes_enabled: false,
    nonproxied_udp_enabled: false,
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

/**
 * Starts Chromium with a clean profile of its own, deleted when it closes; held by a user of its own, by limits of memory
 * and threads, and by its own sandbox where the kernel has one to give.
 */
export async function startVisit({
  executable,
  profiles,
  proxy,
  language = 'en-GB',
  timeZone = 'UTC',
  headers = {},
}: LaunchOptions): Promise<Visit> {
  const folder = await makeVisitFolder(profiles, { 'Default/Preferences': JSON.stringify(PREFERENCES) });
  const profile = folder.home;
  const watch = new BrowserWatch(profile, BROWSER_LIMITS);
  try {
    const { program, env, sandbox } = await confine(executable, folder);
    const context = await chromium.launchPersistentContext(profile, {
      executablePath: program,
      env,
      chromiumSandbox: sandbox,
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
    return { context, close: () => closeVisit(context, folder, watch) };
  } catch (error) {
    watch.stop();
    await removeVisitFolder(folder);
    throw error;
  }
}

async function closeVisit(context: BrowserContext, folder: VisitFolder, watch: BrowserWatch): Promise<void> {
  await within(8000, context.close(), undefined);
  watch.stop();
  await removeVisitFolder(folder).catch(() => {});
}
