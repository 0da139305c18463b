<script setup lang="ts">
import { computed, ref } from 'vue'
import type { Intake, Step } from '@/api/types'
import { day } from '@/logic/words'

const props = defineProps<{ intake: Intake; locked: boolean }>()
const emit = defineEmits<{ step: [step: Step]; forget: [] }>()

const naming = ref(false)
const name = ref('')
const known = computed(() => props.intake.sources.filter((one) => one !== props.intake.source))

function take(source: string): void {
  naming.value = false
  if (source.trim()) emit('step', { kind: 'source', name: source.trim() })
}
</script>

<template>
  <div class="source">
    <p>
      <template v-if="intake.source && intake.learnt">
        From <b>{{ intake.source }}</b>, read as learnt on {{ day(intake.learnt) }}.
        <button v-if="!locked" class="link" @click="emit('forget')">Forget what was learnt</button>
      </template>
      <template v-else-if="intake.source">From <b>{{ intake.source }}</b>. What is decided here is remembered for its next file when this one is applied.</template>
      <template v-else>Where the file comes from is not said, so nothing will be remembered for the next one.</template>
      <button v-if="!locked && !naming" class="link" @click="naming = true">{{ intake.source ? 'It is from somewhere else' : 'Say where it is from' }}</button>
    </p>
    <form v-if="naming" class="name" @submit.prevent="take(name)">
      <button v-for="one in known" :key="one" type="button" class="btn" @click="take(one)">{{ one }}</button>
      <label>Another office or system <input v-model="name" class="box" maxlength="120" /></label>
      <button class="btn fir" :disabled="!name.trim()">It is from there</button>
      <button type="button" class="btn" @click="naming = false">Not now</button>
    </form>
    <template v-if="intake.unlike.length">
      <h3>Unlike the last file of {{ intake.source }}</h3>
      <ul><li v-for="one in intake.unlike" :key="one"><span class="sign" aria-hidden="true" />{{ one }}</li></ul>
    </template>
  </div>
</template>

<style scoped>
.source { margin: 8px 16px 0 0; font-size: 13.5px; }
.source p .link { margin-left: 8px; }
.name { display: flex; flex-wrap: wrap; gap: 8px; align-items: center; margin-top: 6px; }
h3 { margin: 10px 0 2px; }
li { display: flex; gap: 8px; align-items: baseline; line-height: 22px; }
.sign { width: 9px; height: 9px; background: var(--waiting); transform: rotate(45deg); flex: none; }
</style>
