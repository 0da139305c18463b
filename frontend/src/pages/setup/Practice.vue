<script setup lang="ts">
import { computed, onMounted, ref, shallowRef } from 'vue'
import { useIntervalFn } from '@vueuse/core'
import { Progress } from 'ant-design-vue'
import { getPractice, orderPractice, throwPracticeAway } from '@/api/practice'
import type { Practice } from '@/api/types'
import PracticeMade from '@/components/setup/PracticeMade.vue'
import { ask } from '@/composables/useAsk'
import { usePageTitle } from '@/composables/usePageTitle'

/** The practice copy: made, renewed and thrown away; what it has, and where it is. */
const ASK_MS = 1_000
const found = shallowRef<Practice | null>(null)
const problem = ref('')
const busy = ref(false)
const isUnderWay = computed(() => ['ordered', 'making'].includes(found.value?.state ?? ''))
const share = computed(() =>
  found.value?.total ? Math.round((100 * found.value.done) / found.value.total) : 0,
)

async function act(work: () => Promise<Practice>): Promise<void> {
  busy.value = true
  try {
    found.value = await work()
    problem.value = ''
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  } finally {
    busy.value = false
  }
}
const GOES = 'All that was done in the practice copy goes with it: files, changes, submissions.'
async function make(): Promise<void> {
  const renewing = {
    title: 'Make the practice copy anew?',
    said: `${GOES} Who works in it has to sign in again.`,
    act: 'Make it anew',
    not: 'Keep it',
  }
  if (!found.value?.made_at || (await ask(renewing))) await act(orderPractice)
}
async function throwAway(): Promise<void> {
  const going = {
    title: 'Throw the practice copy away?',
    said: `${GOES} The real rosters are not touched.`,
    act: 'Throw it away',
    not: 'Keep it',
  }
  if (await ask(going)) await act(throwPracticeAway)
}
/** It is asked again while something is still to come. */
const isAwaited = computed(() => isUnderWay.value || (found.value?.made_at && !found.value.answers))
useIntervalFn(() => isAwaited.value && !busy.value && void act(getPractice), ASK_MS)
onMounted(() => act(getPractice))
usePageTitle(() => 'Practice copy')
</script>

<template>
  <section class="page">
    <div class="head">
      <h1>Practice copy</h1>
      <span class="grow" />
      <template v-if="found && !found.lacks">
        <button v-if="found.made_at" class="btn" :disabled="busy || isUnderWay" @click="throwAway">
          Throw it away
        </button>
        <button
          :class="['btn', { main: !found.made_at }]"
          :disabled="busy || isUnderWay"
          @click="make"
        >
          {{
            isUnderWay ? 'Being made' : found.made_at ? 'Make it anew' : 'Make the practice copy'
          }}
        </button>
      </template>
    </div>
    <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
    <p v-if="found?.is_practice" class="flag">
      <b>This is the practice copy.</b> It is made, renewed and thrown away in the real one, under
      Setup.
    </p>
    <p v-else-if="found?.lacks" class="flag">{{ found.lacks }}</p>
    <p v-if="found?.state === 'failed'" class="flag stop" role="alert">
      <b>It could not be made.</b> {{ found.said }}
    </p>
    <div v-if="isUnderWay && found" class="under-way" role="status">
      <Progress :percent="share" :show-info="false" />
      <span class="soft">{{ found.doing || 'It begins in a moment' }} …</span>
    </div>
    <PracticeMade v-if="found?.made_at" :practice="found" />
    <template v-if="found && !found.is_practice">
      <h2>What it is</h2>
      <p>
        The same definitions, code lists, groups and rights, with made-up people: other names, days
        of birth, numbers, addresses and notes, of the same shape. Numbers have right check digits,
        mail addresses end in a domain that nobody has. The same person is the same made-up one in
        every roster. Codes stay as they are; where a field is sensitive, they are dealt out anew.
      </p>
      <p>
        Files can be loaded, changes applied, returns sent to the authority’s practice side. Nothing
        of it goes anywhere where it would count, and striped bands say on every page what it is.
        Everybody signs in there as here, with the password of the day it was made.
      </p>
    </template>
  </section>
</template>

<style scoped src="./page.css"></style>
<style scoped>
h2 {
  font-size: 15px;
  margin: 18px 0 4px;
}
p {
  margin: 8px 0;
  max-width: 760px;
}
.under-way {
  max-width: 480px;
  margin: 12px 0;
}
</style>
