import { PROVIDERS, type ProviderData } from "../../demo/providers";

export function providerOf(name: string): ProviderData {
  const provider = PROVIDERS.find((candidate) => candidate.name === name);
  if (!provider) throw new Error(`no provider ${name}`);
  return provider;
}
