export { type KeepingMixes, keepMixes, memberUnits, mixedGroups } from "./keep-mixes";
export { type MixOffer, type MixOffers, mixOffers } from "./offers";
export { pricedMix } from "./priced";
