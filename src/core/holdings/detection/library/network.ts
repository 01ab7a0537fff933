import type { BuiltIn } from '../detector/detector.ts';
import { list } from './list.ts';
import { bounded, labelled, LOOKALIKE_WORDS } from './identity-number.ts';

const VERSION = list(`
version, versions, ver, v, release, releases, build, firmware, update, upgrade, upgraded, udgave
utgåva, fassung, section, afsnit, avsnitt, abschnitt, kapitel, chapter, clause, paragraph, driver
software, patch, oid, schema, api, package, library, rev, assembly, assemblyversion, fileversion
`);

/** Names of one of two coordinates. */
const DEGREES = list(`
lat, lon, lng, latitude, longitude, breddegrad, længdegrad, latitud, longitud, breitengrad, längengrad
`);

export const NETWORK: readonly BuiltIn[] = [
  {
    kind: 'pattern',
    id: 'ipv4',
    name: 'IPv4 address',
    category: 'network',
    source: 'RFC 791; RFC 6890 for addresses that stand for nobody',
    anchor: {
      by: 'pattern',
      pattern:
        '(?<![\\p{L}\\p{N}_])(?<![.\\-]|\\d[:/])(?:\\d{1,3}\\.){3}\\d{1,3}(?![\\p{L}\\p{N}_])(?!\\.[\\p{N}a-z]|-\\p{N}|-[a-z])',
    },
    start: 2.5,
    checks: [
      { check: 'check digit', by: 'IPv4', passes: 0, fails: 'drop' },
      {
        check: 'does not match',
        pattern: '^(?:0\\.|127\\.|255\\.255|224\\.0\\.0\\.|169\\.254)',
        passes: 0,
        fails: 'drop',
      },
      { check: 'does not match', pattern: '^(?:\\d\\.){3}\\d{1,2}$', passes: 0, fails: -2 },
      { check: 'does not match', pattern: '\\.0$', passes: 0, fails: -1.2 },
    ],
    context: [
      {
        where: 'before',
        within: 40,
        words: list(`
ip, ipv4, ip address, ip-address, ip-adresse, ip-adress, client, host, server, from, fra, från, von
source, src, dst, remote, addr, address, login, ping, gateway, dns, client_ip, forwarded
`),
        steps: 3,
      },
      { where: 'heading', within: 1, words: ['ip', 'ipv4', 'address', 'client', 'host', 'remote'], steps: 3 },
      { where: 'before', within: 24, words: VERSION, steps: -5 },
      { where: 'before', within: 2, pattern: '[vV]$|§\\s?$', steps: -5 },
      { where: 'heading', within: 1, words: VERSION, steps: -6 },
      { where: 'line', words: VERSION, steps: -2 },
      { where: 'after', within: 12, words: ['release', 'update', 'version'], steps: -4 },
    ],
    competes: true,
    mask: 'ends',
    examples: [
      'Login from ⟦203.0.113.77⟧',
      'client_ip=⟦192.168.14.22⟧',
      'The request came over ⟦198.51.100.24⟧ twice.',
    ],
    counterExamples: [
      'version 10.4.12.1',
      'v2.10.33.104',
      'Section 1.2.3.4',
      '256.1.2.3',
      '1.2.3.4.5',
      '127.0.0.1',
      'see § 4.1.2.10',
    ],
  },
  {
    kind: 'pattern',
    id: 'ipv6',
    name: 'IPv6 address',
    category: 'network',
    source: 'RFC 4291',
    anchor: {
      by: 'pattern',
      pattern:
        '(?<![\\p{L}\\p{N}_:.])(?:[0-9A-Fa-f]{1,4}:){2,7}(?::?[0-9A-Fa-f]{1,4}){1,6}(?![\\p{L}\\p{N}_:])|(?<![\\p{L}\\p{N}_:.])[0-9A-Fa-f]{1,4}::(?:[0-9A-Fa-f]{1,4}(?::[0-9A-Fa-f]{1,4}){0,6})?(?![\\p{L}\\p{N}_:])',
    },
    start: 3,
    checks: [
      { check: 'check digit', by: 'IPv6', passes: 0, fails: 'drop' },
      { check: 'does not match', pattern: '^::1$|^\\d{1,2}(?::\\d{2})+$', passes: 0, fails: 'drop' },
      { check: 'length', of: 'characters', from: 6, to: 45, passes: 0, fails: -4 },
    ],
    competes: true,
    examples: [
      'from ⟦2001:db8:85a3::8a2e:370:7334⟧',
      '⟦fe80:0:0:0:1ff:fe23:4567:890a⟧ joined',
      'via ⟦2001:db8::1⟧ again',
    ],
    counterExamples: ['at 12:30:45', 'std::vector', 'aa:bb:cc:dd:ee:ff', 'ratio 1:2:3'],
  },
  {
    kind: 'pattern',
    id: 'mac-address',
    name: 'MAC address',
    category: 'network',
    source: 'IEEE 802, EUI-48',
    anchor: {
      by: 'pattern',
      pattern:
        '(?<![\\p{L}\\p{N}_:.-])(?=[A-Fa-f:.-]{0,16}\\d)(?:[0-9A-Fa-f]{2}(?::[0-9A-Fa-f]{2}){5}|[0-9A-Fa-f]{2}(?:-[0-9A-Fa-f]{2}){5}|[0-9A-Fa-f]{4}\\.[0-9A-Fa-f]{4}\\.[0-9A-Fa-f]{4})(?![\\p{L}\\p{N}_:-])(?!\\.\\p{N})',
    },
    start: 3.5,
    checks: [
      {
        check: 'does not match',
        pattern:
          '^(?:00[:-]){5}00$|^(?:[fF]{2}[:-]){5}[fF]{2}$|^\\d\\d(?:-\\d\\d){5}$|^\\d{4}\\.\\d{4}\\.\\d{4}$',
        passes: 0,
        fails: -4,
      },
    ],
    context: [
      {
        where: 'before',
        within: 30,
        words: [
          'mac',
          'mac address',
          'mac-adresse',
          'mac-adress',
          'device',
          'hardware',
          'bssid',
          'ether',
          'hwaddr',
          'wlan',
          'wifi',
        ],
        steps: 3,
      },
      { where: 'heading', within: 1, words: ['mac', 'hwaddr'], steps: 4 },
      {
        where: 'before',
        within: 30,
        words: ['fingerprint', 'sha1', 'sha256', 'md5', 'thumbprint', 'hash', 'uuid'],
        steps: -5,
      },
    ],
    competes: true,
    examples: ['MAC ⟦3c:22:fb:9a:10:4e⟧', 'device ⟦00-1B-44-11-3A-B7⟧ seen', '⟦001b.4411.3ab7⟧ on port 4'],
    counterExamples: ['fingerprint 3c:22:fb:9a:10:4e:aa:bb', '12-03-24-10-11-12', 'ff:ff:ff:ff:ff:ff'],
  },
  {
    kind: 'pattern',
    id: 'coordinates',
    name: 'Coordinates',
    category: 'network',
    source: 'ISO 6709; WGS 84',
    anchor: {
      by: 'pattern',
      pattern:
        "(?<![\\p{L}\\p{N}_.])[-+]?(?:[0-8]?\\d\\.\\d{4,8}|90\\.0{4,8})°?\\s?[NS]?\\s?[,; /]\\s?[-+]?(?:1[0-7]\\d|\\d?\\d|180)\\.\\d{4,8}°?(?:\\s?[EWØÖO](?!\\p{L}))?(?![\\p{L}\\p{N}_]|\\.\\p{N})|(?<![\\p{L}\\p{N}_.])\\d{1,2}°\\s?\\d{1,2}['′’](?:\\s?\\d{1,2}(?:\\.\\d+)?[\"″”])?\\s?[NS][,;]?\\s{0,2}\\d{1,3}°\\s?\\d{1,2}['′’](?:\\s?\\d{1,2}(?:\\.\\d+)?[\"″”])?\\s?[EWØÖO](?!\\p{L})|(?<![\\p{L}\\p{N}_.])[NS] ?\\d{1,2}°\\s?\\d{1,2}(?:\\.\\d{1,4})?['′’](?:\\s?\\d{1,2}(?:\\.\\d+)?[\"″”])?[,;]?\\s{1,2}[EWØÖO] ?\\d{1,3}°\\s?\\d{1,2}(?:\\.\\d{1,4})?['′’](?:\\s?\\d{1,2}(?:\\.\\d+)?[\"″”])?|(?<![\\p{L}\\p{N}_.])\\d{1,2}°\\s?\\d{1,2}\\.\\d{1,4}['′’]\\s?[NS][,;]?\\s{0,2}\\d{1,3}°\\s?\\d{1,2}\\.\\d{1,4}['′’]\\s?[EWØÖO](?!\\p{L})|(?<![\\p{L}\\p{N}_.+-])[-+]?\\d{1,3}\\.\\d{4,8}(?![\\p{L}\\p{N}_]|\\.\\p{N})",
    },
    start: 2,
    checks: [
      // One of the two says little alone.
      { check: 'does not match', pattern: '^[-+]?\\d+\\.\\d+$', passes: 0, fails: -5 },
      // Two plain numbers side by side are seldom a place.
      { check: 'does not match', pattern: '^\\d+\\.\\d+\\s+\\d+\\.\\d+$', passes: 0, fails: -3 },
      {
        check: 'does not match',
        pattern: '^\\d+\\.\\d{4}\\s?[,;/]\\s?\\d+\\.\\d{4}$',
        passes: 0,
        fails: -1.5,
      },
      {
        check: 'does not match',
        pattern: '^[-+]?0\\.\\d+\\s?[,; /]\\s?[-+]?0\\.\\d+$',
        passes: 0,
        fails: -4,
      },
    ],
    context: [
      {
        where: 'before',
        within: 40,
        words: list(`
position, gps, coordinates, koordinater, koordinaten, location, lat, lon, latitude, longitude
placering, standort, plats, geo, lat/lon, latlng
`),
        steps: 3,
      },
      {
        where: 'heading',
        within: 1,
        words: ['position', 'gps', 'coordinates', 'location', 'geo', 'lat', 'koordinater', 'koordinaten'],
        steps: 3,
      },
      { where: 'before', within: 4, words: DEGREES, steps: 6 },
      { where: 'heading', within: 1, words: DEGREES, steps: 6 },
      {
        where: 'before',
        within: 30,
        words: list(`
price, rate, rates, ratio, ratios, mean, average, values, range, interval, weights, score, kurs
vector, p, loss
`),
        steps: -4,
      },
    ],
    competes: true,
    examples: [
      'lat=⟦55.6761⟧',
      'Longitude: ⟦-12.56834⟧',
      "GPS: ⟦N 54° 19.2' E 10° 8.1'⟧",
      'Position ⟦54° 19.204’ N, 010° 08.112’ E⟧',
      'Position ⟦55.676098, 12.568337⟧',
      'seen at ⟦55°40\'34"N 12°34\'06"E⟧',
      'lat/lon ⟦-33.86880, 151.20930⟧',
    ],
    counterExamples: [
      'long 3.1415 m',
      'late 55.6761',
      'rates 0.1234, 0.5678',
      'values 95.12345, 12.34567',
      '3.14',
    ],
  },
  {
    kind: 'pattern',
    id: 'imei',
    name: 'IMEI',
    category: 'network',
    source: '3GPP TS 23.003, clause 6 (Luhn)',
    anchor: { by: 'pattern', pattern: bounded('\\d{2}-?\\d{6}-?\\d{6}-?\\d') },
    start: -2,
    checks: [{ check: 'check digit', by: 'IMEI', passes: 0, fails: 'drop' }],
    context: labelled(['imei', 'imei no', 'imei-nummer', 'device', 'handset']),
    competes: true,
    examples: ['IMEI: ⟦490154203237518⟧', 'IMEI ⟦49-015420-323751-8⟧'],
    counterExamples: ['IMEI: 490154203237519', '490154203237518 bytes'],
  },
  {
    kind: 'pattern',
    id: 'device-id',
    name: 'Device or advertising identifier',
    category: 'network',
    source: 'RFC 9562 (UUID), where a device or visitor is named by it',
    anchor: {
      by: 'pattern',
      pattern:
        '(?<![\\p{L}\\p{N}_-])[0-9A-Fa-f]{8}-[0-9A-Fa-f]{4}-[1-8][0-9A-Fa-f]{3}-[89ABab][0-9A-Fa-f]{3}-[0-9A-Fa-f]{12}(?![\\p{L}\\p{N}_-])',
    },
    start: -3,
    context: [
      {
        where: 'before',
        within: 40,
        words: list(`
idfa, idfv, gaid, aaid, advertising id, advertising identifier, device id, deviceid, device
visitor id, client id, android id, enheds-id, enhets-id, geräte-id, ad id
`),
        steps: 5.5,
      },
      {
        where: 'heading',
        within: 1,
        words: ['idfa', 'gaid', 'advertising', 'device', 'visitor', 'client id'],
        steps: 5.5,
      },
      { where: 'before', within: 24, words: [...LOOKALIKE_WORDS], steps: -3 },
    ],
    competes: true,
    examples: ['advertising id: ⟦38400000-8cf0-41bd-b23e-10b96e4ef00d⟧'],
    counterExamples: [
      'request id 38400000-8cf0-41bd-b23e-10b96e4ef00d',
      'urn:uuid:38400000-8cf0-41bd-b23e-10b96e4ef00d',
    ],
  },
];
