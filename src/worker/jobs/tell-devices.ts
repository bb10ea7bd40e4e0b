import { tellDevices } from '$lib/server/messages/tell-devices';
import type { Job } from '../job';

export const tellDevicesJob: Job<'tell_devices'> = ({ firmId, messageId }, { context }) => tellDevices(context, firmId, messageId);
