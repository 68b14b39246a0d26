// Debian's Chromium, as it runs without a monitor and as root.
export const CHROMIUM = '/usr/bin/chromium';
export const CHROMIUM_FLAGS = [
  '--headless',
  '--no-sandbox',
  '--disable-gpu',
  '--disable-quic',
  '--no-first-run',
  '--disable-background-networking',
  '--disable-component-update',
  '--disable-sync',
];
