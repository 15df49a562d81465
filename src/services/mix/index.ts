export { type MixOffer, type MixOffers, mixOffers } from "./offers";
