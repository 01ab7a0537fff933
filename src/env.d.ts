/// <reference types="astro/client" />
declare namespace App {
  interface Locals {
    requestId: string;
    address: string;
    outgoing: import('./server/http/outgoing.ts').Outgoing;
    account: import('./core/accounts/authority.ts').Account | undefined;
    theme: 'light' | 'dark' | 'system';
  }
}
