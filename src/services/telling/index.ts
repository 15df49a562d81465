export { tellWhatHappened } from "./tell";
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
