<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { Modal, message } from 'ant-design-vue'
import LinkBox from './LinkBox.vue'
import MayForm from './MayForm.vue'
import SignsIn from './SignsIn.vue'
import {
  closeAccount,
  endSecondOf,
  makeLink,
  openAccount,
  putAccount,
  signOutAccount,
} from '@/api/accounts'
import type { Account, AccountIn, LinkMade, Roster } from '@/api/types'
import { mayNow } from '@/logic/accounts'
import { day } from '@/logic/words'

/** One who works here: what they may do, how they sign in, and what can be done about it. */
const props = defineProps<{ account: Account; rosters: Roster[] }>()
const emit = defineEmits<{ close: []; done: [] }>()

const link = ref<LinkMade | null>(null)
const problem = ref('')
const busy = ref(false)
const start = computed(() => mayNow(props.account))
watch(
  () => props.account.id,
  () => {
    link.value = null
    problem.value = ''
  },
)
async function act(what: () => Promise<unknown>, said: string): Promise<void> {
  busy.value = true
  problem.value = ''
  try {
    await what()
    if (said) void message.success(said, 4)
    emit('done')
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  } finally {
    busy.value = false
  }
}
const save = (may: AccountIn) =>
  act(() => putAccount(props.account.id, may), `${may.name}: kept, from the next click on.`)
const newLink = () =>
  act(async () => {
    link.value = await makeLink(props.account.id)
  }, '')
function close(): void {
  Modal.confirm({
    title: `Close the account of ${props.account.name}`,
    content:
      'They are signed out at once and cannot sign in any more. What they did stays, and ' +
      'the account can be opened again.',
    okText: 'Close it',
    cancelText: 'Cancel',
    onOk: () => act(() => closeAccount(props.account.id), `The account is closed.`),
  })
}
</script>

<template>
  <aside class="side" :aria-label="account.name">
    <div class="top">
      <h2>{{ account.name }}</h2>
      <button class="btn" @click="emit('close')">Close <kbd>Esc</kbd></button>
    </div>
    <p class="soft">
      {{ account.sign_in }} · since {{ day(account.since.slice(0, 10)) }}
      <template v-if="account.is_you"> · that is you</template>
    </p>
    <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
    <LinkBox v-if="link" :link="link" :name="account.name" />
    <h3>May do</h3>
    <MayForm
      :start="start"
      :rosters="rosters"
      act="Save what they may do"
      :busy="busy"
      @done="save"
    />
    <SignsIn
      :account="account"
      @sign-out="act(() => signOutAccount(account.id), 'Signed out everywhere.')"
      @no-second="act(() => endSecondOf(account.id), 'They sign in without a code now.')"
    />
    <p class="acts">
      <button v-if="!account.is_closed" class="btn" :disabled="busy" @click="newLink">
        {{ account.has_password ? 'New password link' : 'New invitation link' }}
      </button>
      <button v-if="!account.is_closed" class="btn" :disabled="busy" @click="close">
        Close the account
      </button>
      <button
        v-else
        class="btn fir"
        :disabled="busy"
        @click="act(() => openAccount(account.id), 'The account is open again.')"
      >
        Open the account again
      </button>
    </p>
  </aside>
</template>

<style scoped src="./panel.css"></style>
<style scoped>
.acts {
  display: grid;
  gap: 6px;
  justify-items: start;
  margin-top: 14px;
}
</style>
