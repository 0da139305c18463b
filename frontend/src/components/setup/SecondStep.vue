<script setup lang="ts">
import { onMounted, ref, shallowRef } from 'vue'
import RecoveryCodes from './RecoveryCodes.vue'
import SecondBegin from './SecondBegin.vue'
import { beginSecond, confirmSecond, endSecond, getSecond, makeCodes } from '@/api/session'
import type { Second, SecondBegun } from '@/api/types'
import { counted, day } from '@/logic/words'

/** One's own second step: set up with an app, confirmed by a first code, taken away. */
const stands = shallowRef<Second | null>(null)
const begun = shallowRef<SecondBegun | null>(null)
const codes = ref<string[]>([])
const password = ref('')
const problem = ref('')
const busy = ref(false)

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
const begin = () => act(async () => void (begun.value = await beginSecond()))
const confirm = (code: string) =>
  act(async () => {
    codes.value = await confirmSecond(code)
    begun.value = null
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
            Switch the second step off
          </button>
        </p>
      </form>
    </template>
    <SecondBegin
      v-else-if="begun"
      :begun="begun"
      :busy="busy"
      @done="confirm"
      @cancel="begun = null"
    />
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
