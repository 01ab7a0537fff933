// What other areas may use of this one.
export { deviceOptions, heldOnDevice, type DeviceItem } from './activity/held-on-device.ts';
export { addLookout } from './lookouts/lookouts.ts';
export { firstLookout } from '../../core/protection/lookouts/lookout-content.ts';
