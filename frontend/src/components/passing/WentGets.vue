<script setup lang="ts">
import type { Went } from '@/api/types'
import { partsOf, sayField } from '@/logic/passing'
import { moment } from '@/logic/words'

/** What a destination gets of a record, beside what it holds; and what it was sent before. */
defineProps<{ went: Went }>()
const now = new Date()
const values = (texts: string[]) => texts.join(', ')
const sayAct = (act: Went['sent'][number]) =>
  act.act === 'changes' && act.moved
    ? act.moved
        .split(', ')
        .map((name) => sayField(name === 'groups' ? '' : name))
        .join(', ')
    : act.act
</script>

<template>
  <h3>What goes to {{ went.title }}</h3>
  <p v-for="move in went.gets" :key="move.what" class="line">
    <span>{{ sayField(move.what) }}</span><span
      v-if="values(move.before) === values(move.after)"
      class="value"
      >{{ values(move.after) }}</span
    ><span v-else class="value"
      ><span v-if="partsOf(move).was.length" class="was">{{ values(partsOf(move).was) }}</span>
      <span class="will">{{ values(partsOf(move).will) || 'nothing' }}</span></span
    >
  </p>
  <p v-if="!went.gets.length" class="soft">nothing</p>
  <p v-if="went.never.length" class="line">
    <span>never</span><span class="soft value">{{ values(went.never) }}</span>
  </p>
  <template v-if="went.sent.length">
    <h3>Sent before</h3>
    <p v-for="act in went.sent" :key="act.at" class="line">
      <span>{{ moment(act.at, now) }}, {{ sayAct(act) }}</span
      ><span class="soft">{{
        [act.answer, act.ms === null ? '' : `${act.ms} ms`].filter(Boolean).join(', ')
      }}</span>
    </p>
  </template>
</template>

<style scoped src="./went.css"></style>
