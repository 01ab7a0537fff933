// What other areas may use of this one.
export { deviceOptions, heldOnDevice, type DeviceItem } from './activity/held-on-device.ts';
