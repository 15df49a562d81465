export { answers, answersWith, asItIs, bytes, csvStream, done, textFile } from "./answers";
export { checked, idSchema, nameSchema, noBody } from "./input";
export { route } from "./make-route";
export { byId, byName, pageQuery } from "./schemas";
export { estate, ofAccount, ofFleet, ofResource, onOf } from "./scopes";
