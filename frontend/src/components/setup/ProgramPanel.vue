<script setup lang="ts">
import { computed, ref, watch } from 'vue'
import { message } from 'ant-design-vue'
import DayField from '@/components/controls/DayField.vue'
import MayForm from './MayForm.vue'
import TokenBox from './TokenBox.vue'
import TokenList from './TokenList.vue'
import * as api from '@/api/accounts'
import type { AccountIn, Program, Roster } from '@/api/types'
import { APPROVE } from '@/composables/useSession'
import { mayNow, NOBODY } from '@/logic/accounts'

/** A program that asks by tokens: what it may do, and its tokens; or one that is to be added. */
const props = defineProps<{ program: Program | null; rosters: Roster[] }>()
const emit = defineEmits<{ close: []; done: [id: number] }>()

const token = ref('')
const named = ref('')
const until = ref('')
const problem = ref('')
const busy = ref(false)
const start = computed(() => (props.program ? mayNow(props.program.account) : NOBODY))
const number = computed(() => props.program?.account.id ?? 0)
watch(number, (_, before) => {
  if (before) token.value = ''
  problem.value = ''
})

async function act(what: () => Promise<unknown>, said = ''): Promise<void> {
  busy.value = true
  problem.value = ''
  try {
    await what()
    if (said) void message.success(said, 4)
    emit('done', number.value)
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  } finally {
    busy.value = false
  }
}
async function save(may: AccountIn): Promise<void> {
  if (props.program) return act(() => api.putAccount(number.value, may), `${may.name}: kept.`)
  await act(async () => {
    const made = await api.addProgram(may, until.value || null)
    token.value = made.token
    named.value = may.name
    emit('done', made.account)
  })
}
const another = (last: string | null) =>
  act(async () => {
    token.value = (await api.makeToken(number.value, last)).token
    named.value = props.program?.account.name ?? ''
  })
</script>

<template>
  <aside class="side" :aria-label="program?.account.name ?? 'Add a program'">
    <div class="top">
      <h2>{{ program?.account.name ?? 'Add a program' }}</h2>
      <button class="btn" @click="emit('close')">Close <kbd>Esc</kbd></button>
    </div>
    <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
    <TokenBox v-if="token" :token="token" :name="named" />
    <h3>May do</h3>
    <MayForm
      :start="start"
      :rosters="rosters"
      :most="APPROVE"
      :act="program ? 'Save what it may do' : 'Add it and make a token'"
      :busy="busy"
      @done="save"
    >
      <div v-if="!program" class="until">
        <span>Token until</span>
        <DayField v-model="until" label="Last day of the token" placeholder="no end" />
      </div>
    </MayForm>
    <template v-if="program">
      <TokenList
        :program="program"
        :busy="busy"
        @end="(one) => act(() => api.endToken(number, one), 'The token is ended.')"
        @make="another"
      />
      <p class="acts">
        <button
          v-if="!program.account.is_closed"
          class="btn"
          :disabled="busy"
          @click="act(() => api.closeAccount(number), 'It can ask no more.')"
        >
          Close it
        </button>
        <button v-else class="btn fir" :disabled="busy" @click="act(() => api.openAccount(number))">
          Open it again
        </button>
      </p>
    </template>
  </aside>
</template>

<style scoped src="./panel.css"></style>
<style scoped>
.until {
  width: 100%;
  display: grid;
  grid-template-columns: 116px 1fr;
  gap: 8px;
  align-items: center;
}
.acts {
  margin-top: 14px;
}
</style>
