/// <reference types="astro/client" />
declare namespace App {
  interface Locals {
    requestId: string;
    address: string;
    account: import('./core/accounts/authority.ts').Account | undefined;
    theme: 'light' | 'dark' | 'system';
  }
}
