export { notifyOfEvents } from "./notify";
export {
  deliver,
  makeWebhook,
  removeHook,
  renewSecret,
  retryDelivery,
  setHook,
  testHook,
  type WebhookView,
  webhooks,
} from "./webhooks";
