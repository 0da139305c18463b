<script setup lang="ts">
import ChooseOne from '@/components/controls/ChooseOne.vue'
import type { Family, FamilyDetail, Step } from '@/api/types'
import { ruleWord } from '@/logic/changes'
import { count, counted } from '@/logic/words'

/** What becomes of one field's values, for all of the file, and what it comes to. */
const props = defineProps<{
  field: string
  family: Family | undefined
  detail: FamilyDetail
  several: boolean
  may: boolean
}>()
const emit = defineEmits<{ step: [step: Step] }>()
const setRule = (rule: string) => emit('step', { kind: 'update', field: props.field, rule })
</script>

<template>
  <div class="rule">
    <label
      >What becomes of it
      <ChooseOne
        :model-value="detail.rule"
        :options="detail.rules.map((rule) => ({ value: rule, label: ruleWord(rule, several) }))"
        label="What becomes of it"
        :disabled="!may"
        @update:model-value="(rule) => setRule(rule ?? '')"
    /></label>
    <button
      v-if="family?.kept_blank"
      class="btn"
      :disabled="!may"
      title="Shown here first, with from whom; nothing happens before it is applied"
      @click="setRule('file')"
    >
      Empty it for {{ counted(family.kept_blank, 'person', 'people') }}
    </button>
    <span v-if="detail.before !== null && detail.after !== null" class="soft"
      >sum {{ count(Number(detail.before)) }} → <b>{{ count(Number(detail.after)) }}</b></span
    >
    <span v-if="detail.kept" class="soft"
      >{{ counted(detail.kept, 'person keeps', 'people keep') }} the roster’s value ·
      <button class="link" :disabled="!may" @click="setRule(detail.rule || 'filled')">
        tick them in again
      </button></span
    >
  </div>
</template>

<style scoped>
.rule {
  display: flex;
  gap: 18px;
  align-items: center;
  flex-wrap: wrap;
  font-size: 13.5px;
}
</style>
