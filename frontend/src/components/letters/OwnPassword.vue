<script setup lang="ts">
import { computed, ref } from 'vue'
import type { OwnAccount } from '@/api/types'

/** Somebody types the password that they set for their account, twice, and may look at it. */
const props = defineProps<{ account: OwnAccount; wrong: string }>()
const emit = defineEmits<{ typed: [password: string] }>()
const first = ref('')
const second = ref('')
const isShown = ref(false)

const kind = computed(() => (isShown.value ? 'text' : 'password'))
const length = computed(() => [...first.value].length)
const trouble = computed(() => {
  if (length.value < props.account.least) return `at least ${props.account.least} letters`
  return second.value && second.value !== first.value ? 'the two are not the same' : ''
})
const isBad = computed(() => !!second.value && !!trouble.value)
function type(): void {
  emit('typed', !trouble.value && second.value === first.value ? first.value : '')
}
</script>

<template>
  <fieldset>
    <legend>Your password at {{ account.title }}</legend>
    <label v-if="account.login"
      ><span>You sign in as</span
      ><input class="box" :value="account.login" readonly autocomplete="username"
    /></label>
    <label
      ><span>New password</span
      ><input
        v-model="first"
        class="box"
        :type="kind"
        maxlength="200"
        autocomplete="new-password"
        :aria-invalid="!!wrong"
        @input="type"
    /></label>
    <label
      ><span>The same again</span
      ><input
        v-model="second"
        class="box"
        :type="kind"
        maxlength="200"
        autocomplete="new-password"
        @input="type"
    /></label>
    <p class="small" :class="isBad || wrong ? 'bad' : 'soft'" role="status">
      {{ wrong || trouble || 'It goes to them at once, and is not kept here.' }}
    </p>
    <label class="tick"><input v-model="isShown" type="checkbox" /> Show what I type</label>
  </fieldset>
</template>

<style scoped>
fieldset {
  width: 100%;
  display: grid;
  gap: 8px;
  border: 1px solid var(--line);
  padding: 10px 14px 12px;
  margin: 0;
  min-width: 0;
}
legend {
  font-weight: 600;
  padding: 0 6px;
}
label:not(.tick) {
  display: grid;
  grid-template-columns: 130px minmax(0, 1fr);
  gap: 2px 12px;
  align-items: center;
}
.box {
  width: 100%;
}
.tick {
  display: flex;
  gap: 7px;
  align-items: baseline;
}
@media (width < 480px) {
  label:not(.tick) {
    grid-template-columns: minmax(0, 1fr);
  }
}
</style>
