import { ref, type Ref } from 'vue';

/** What is being made for the user to take away: whether, how far, and what came of it in words. */
export interface Making {
  busy: Ref<boolean>;
  /** Share done; null where it is not told. */
  share: Ref<number | null>;
  message: Ref<string>;
  /** Makes something beside the page, which tells how far it is, and keeps the sentence that comes of it; what goes wrong is said. */
  make: (what: (told: (share: number) => void) => Promise<string>) => Promise<void>;
}

export function useMaking(): Making {
  const busy = ref(false);
  const share = ref<number | null>(null);
  const message = ref('');
  async function make(what: (told: (part: number) => void) => Promise<string>): Promise<void> {
    busy.value = true;
    message.value = '';
    try {
      message.value = await what((part) => void (share.value = part));
    } catch (error) {
      const { message: text } = error as Error;
      message.value = `${text.charAt(0).toUpperCase()}${text.slice(1).replace(/\.$/, '')}.`;
    } finally {
      busy.value = false;
      share.value = null;
    }
  }
  return { busy, share, message, make };
}
