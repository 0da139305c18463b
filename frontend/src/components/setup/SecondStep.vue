<script setup lang="ts">
import { nextTick, onMounted, ref, shallowRef } from 'vue'
import RecoveryCodes from './RecoveryCodes.vue'
import { beginSecond, confirmSecond, endSecond, getSecond, makeCodes } from '@/api/session'
import type { Second, SecondBegun } from '@/api/types'
import { counted, day } from '@/logic/words'

/** One's own second step: set up with an app, confirmed by a first code, taken away. */
const stands = shallowRef<Second | null>(null)
const begun = shallowRef<SecondBegun | null>(null)
const codes = ref<string[]>([])
const code = ref('')
const password = ref('')
const problem = ref('')
const busy = ref(false)
const box = ref<HTMLInputElement>()

async function act(what: () => Promise<void>): Promise<void> {
  busy.value = true
  problem.value = ''
  try {
    await what()
    stands.value = await getSecond()
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  } finally {
    busy.value = false
    password.value = ''
  }
}
const begin = () =>
  act(async () => {
    begun.value = await beginSecond()
    await nextTick()
    box.value?.focus()
  })
const confirm = () =>
  act(async () => {
    codes.value = await confirmSecond(code.value)
    begun.value = null
    code.value = ''
  })
const renew = () => act(async () => void (codes.value = await makeCodes(password.value)))
const end = () =>
  act(async () => {
    await endSecond(password.value)
    codes.value = []
  })
onMounted(() => act(async () => undefined))
</script>

<template>
  <section class="second" aria-label="Second step">
    <h2>Second step</h2>
    <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
    <RecoveryCodes v-if="codes.length" :codes="codes" />
    <template v-if="stands?.is_on">
      <p>
        You sign in with a code from your app{{
          stands.since ? `, since ${day(stands.since.slice(0, 10))}` : ''
        }}. {{ counted(stands.codes_left, 'recovery code') }} left.
      </p>
      <form @submit.prevent="renew">
        <label
          >Your password
          <input
            v-model="password"
            class="box"
            type="password"
            autocomplete="current-password"
            required
        /></label>
        <p class="do">
          <button class="btn" :disabled="busy || !password">New recovery codes</button>
          <button type="button" class="btn" :disabled="busy || !password" @click="end">
            Take the second step away
          </button>
        </p>
      </form>
    </template>
    <form v-else-if="begun" class="begun" @submit.prevent="confirm">
      <img
        :src="`data:image/svg+xml,${encodeURIComponent(begun.picture)}`"
        alt="A square code with the secret for your app; it stands below in letters too"
        width="180"
        height="180"
      />
      <div>
        <p>
          Take the square code with an app for time-based codes, or type this into it:
          <b class="mono secret">{{ begun.secret.replace(/(.{4})/g, '$1 ').trim() }}</b>
        </p>
        <label
          >The six digits that it shows now
          <input
            ref="box"
            v-model="code"
            class="box mono"
            inputmode="numeric"
            autocomplete="one-time-code"
            maxlength="7"
            required
        /></label>
        <p class="do">
          <button class="btn main" :disabled="busy || !code">It works</button>
          <button type="button" class="btn" @click="begun = null">Cancel</button>
        </p>
      </div>
    </form>
    <template v-else-if="stands">
      <p class="soft">
        A code from an app on your phone, beside the password: whoever learns your password cannot
        sign in with it alone.
      </p>
      <p v-if="!stands.can_be" class="flag">
        This installation has no key to keep secrets by (NEVEFIELD_STEP_KEY), so nobody can have a
        second step yet.
      </p>
      <button v-else class="btn" :disabled="busy" @click="begin">Set up a second step</button>
    </template>
  </section>
</template>

<style scoped>
.second {
  max-width: 620px;
  margin-top: 26px;
  display: grid;
  gap: 10px;
  justify-items: start;
}
.begun {
  display: flex;
  flex-wrap: wrap;
  gap: 18px;
}
.begun > div {
  flex: 1 1 260px;
}
img {
  background: #fff;
  border: 1px solid var(--line);
}
.secret {
  display: block;
  margin: 6px 0 12px;
}
.box {
  display: block;
  width: 200px;
  margin-top: 4px;
}
.do {
  display: flex;
  gap: 8px;
  margin-top: 10px;
}
</style>
