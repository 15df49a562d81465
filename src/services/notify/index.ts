export { notifyOfEvents } from "./notify";
export {
  deliver,
  makeWebhook,
  removeHook,
  retryDelivery,
  setHook,
  testHook,
  type WebhookView,
  webhooks,
} from "./webhooks";
