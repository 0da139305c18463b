<script setup lang="ts">
import { computed, nextTick, onMounted, reactive, ref, shallowRef, useTemplateRef } from 'vue'
import OwnPassword from '@/components/letters/OwnPassword.vue'
import OwnFieldRow from '@/components/letters/OwnFieldRow.vue'
import DayField from '@/components/controls/DayField.vue'
import { ApiError } from '@/api/client'
import { answerOwn, lookAtOwn } from '@/api/letters'
import type { Own, OwnAnswered } from '@/api/types'
import { usePageTitle } from '@/composables/usePageTitle'
import { counted, day, listed } from '@/logic/words'

/** Somebody looks by their link at what is kept of them, and says whether it is right. */
const token = location.hash.slice(1, 1000)
const own = shallowRef<Own | null>(null)
const said = reactive<Record<string, string>>({})
const wrong = ref<Record<string, string>>({})
const proof = ref('')
const gone = ref('')
const problem = ref('')
const busy = ref(false)
const password = ref('')
const answered = shallowRef<OwnAnswered | null>(null)
const told = useTemplateRef<HTMLElement>('told')

const changed = computed(
  () => own.value?.fields.filter((one) => (said[one.name] ?? one.value) !== one.value) ?? [],
)
function tell(error: unknown): void {
  const words = error instanceof Error ? error.message : String(error)
  const isOver = error instanceof ApiError && (error.status === 410 || error.status === 422)
  if (isOver && !own.value) gone.value = words
  else if (error instanceof ApiError && error.status === 410) gone.value = words
  else problem.value = words
  const found = error instanceof ApiError ? error.problem.problems : undefined
  wrong.value = (found ?? {}) as Record<string, string>
}
async function run(doing: () => Promise<void>): Promise<void> {
  if (busy.value) return
  busy.value = true
  problem.value = ''
  wrong.value = {}
  try {
    await doing()
  } catch (error) {
    tell(error)
  } finally {
    busy.value = false
  }
  await nextTick()
  told.value?.focus()
}
const look = () =>
  run(async () => {
    own.value = await lookAtOwn(token, proof.value)
    for (const one of own.value.fields) said[one.name] = one.value
  })
const send = () =>
  run(async () => {
    const only = Object.fromEntries(changed.value.map((one) => [one.name, said[one.name] ?? '']))
    answered.value = await answerOwn(token, proof.value, only, password.value)
    password.value = ''
  })
function type(text: string): void {
  password.value = text
  delete wrong.value['']
}
const act = computed(() => {
  const sends = changed.value.length ? `Send ${counted(changed.value.length, 'correction')}` : ''
  if (!own.value?.account) return sends || 'All of it is right'
  if (!own.value.fields.length) return 'Set the password'
  return `${sends || 'All of it is right'}; set the password`
})
onMounted(look)
usePageTitle(() => own.value && `Your data · ${own.value.institution}`)
</script>

<template>
  <section class="yours">
    <div v-if="gone" ref="told" class="card" tabindex="-1">
      <h1>Nothing to do here</h1>
      <p class="flag" role="alert">{{ gone }}</p>
    </div>
    <div v-else-if="answered" ref="told" class="card" tabindex="-1" role="status">
      <h1>Thank you{{ own?.name ? `, ${own.name}` : '' }}</h1>
      <p v-if="answered.password_at">
        Your password at {{ answered.password_at }} is set{{
          own?.account?.login ? `: you sign in there as ${own.account.login}` : ''
        }}.
      </p>
      <p v-if="answered.corrected.length">
        You sent {{ counted(answered.corrected.length, 'correction') }}:
        {{ listed(answered.corrected) }}. Somebody of {{ own?.institution || 'the office' }} looks
        at {{ answered.corrected.length === 1 ? 'it' : 'them' }} before
        {{ answered.corrected.length === 1 ? 'it counts' : 'they count' }}.
      </p>
      <p v-else-if="own?.fields.length">You said that all of it is right.</p>
      <p>You can close this page.</p>
    </div>
    <form v-else-if="own?.proof" class="card" @submit.prevent="look">
      <p v-if="own.institution" class="soft">{{ own.institution }}</p>
      <h1>{{ own.title }}</h1>
      <p>To see that it is you, say first:</p>
      <DayField
        v-if="own.proof_is_day"
        v-model="proof"
        :label="own.proof"
        :placeholder="own.proof"
      />
      <label v-else
        >{{ own.proof }}
        <input v-model="proof" class="box" maxlength="500" autocomplete="off" required
      /></label>
      <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
      <button class="btn main" :disabled="busy || !proof">Go on</button>
    </form>
    <form v-else-if="own" class="card" @submit.prevent="send">
      <p v-if="own.institution" class="soft">{{ own.institution }}</p>
      <h1>{{ own.title }}</h1>
      <p v-if="own.fields.length">
        This is what is kept of you, <b>{{ own.name }}</b>. What is not right, put right, and send
        it. You can answer once, until {{ day(own.last_day) }}.
      </p>
      <p v-else>
        This is for <b>{{ own.name }}</b>. It works once, until {{ day(own.last_day) }}.
      </p>
      <OwnFieldRow
        v-for="one in own.fields"
        :key="one.name"
        v-model="said[one.name]"
        :field="one"
        :wrong="wrong[one.name] ?? ''"
      />
      <OwnPassword
        v-if="own.account"
        :account="own.account"
        :wrong="wrong[''] ?? ''"
        @typed="type"
      />
      <p v-if="problem && !wrong['']" class="flag stop" role="alert">{{ problem }}</p>
      <button class="btn main" :disabled="busy || (!!own.account && !password)">{{ act }}</button>
    </form>
    <div v-else-if="problem" class="card">
      <p class="flag stop" role="alert">{{ problem }}</p>
      <button class="btn" @click="look">Try again</button>
    </div>
    <p v-else class="soft" role="status">Looking what the link is for …</p>
  </section>
</template>

<style scoped>
.yours {
  flex: 1;
  display: grid;
  place-items: start center;
  padding: 20px;
  overflow: auto;
}
.card {
  width: min(560px, 100%);
  display: grid;
  gap: 12px;
  justify-items: start;
  background: var(--snow);
  border: 1px solid var(--line);
  padding: 22px 24px;
  overflow-wrap: anywhere;
}
h1 {
  font-size: 20px;
  line-height: 26px;
  margin: 0;
}
label {
  width: 100%;
}
.box {
  display: block;
  width: 100%;
}
</style>
