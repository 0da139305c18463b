<script setup lang="ts">
import { computed } from 'vue'
import ChooseOne from '@/components/controls/ChooseOne.vue'
import type { UseMail } from '@/composables/useMail'
import { ofPairs } from '@/logic/choices'

/** The server, how it is talked to, and who writes. */
const props = defineProps<{ mail: UseMail }>()
const password = defineModel<string>('password', { required: true })
const form = computed(() => props.mail.form)
const SECURITY = ofPairs([
  ['starttls', 'TLS, begun with STARTTLS (587)'],
  ['tls', 'TLS from the first letter (465)'],
  ['none', 'none: only within this machine or house'],
] as const)
const PORTS: Record<string, number> = { starttls: 587, tls: 465, none: 25 }
function choose(security: string | null): void {
  const usual = Object.values(PORTS).includes(Number(form.value.port))
  form.value.security = security ?? 'starttls'
  if (usual) form.value.port = PORTS[form.value.security]!
}
</script>

<template>
  <form class="server" @submit.prevent="mail.keep">
    <div class="two">
      <label
        >Mail server
        <input
          v-model.trim="form.host"
          class="box"
          maxlength="255"
          placeholder="mail.school.example"
          required
      /></label>
      <label class="port"
        >Port <input v-model.number="form.port" class="box" inputmode="numeric" required
      /></label>
    </div>
    <p class="security">
      <span class="above">Security</span>
      <ChooseOne
        :model-value="form.security"
        :options="SECURITY"
        label="Security"
        @update:model-value="choose"
      />
    </p>
    <div class="two">
      <label
        >Name there
        <input v-model="form.user" class="box" maxlength="200" autocomplete="off" />
      </label>
      <label
        >Password there
        <input
          v-model="password"
          class="box"
          type="password"
          maxlength="500"
          autocomplete="new-password"
          :placeholder="mail.post?.has_password ? 'is kept; type another to change it' : ''"
        />
      </label>
    </div>
    <div class="two">
      <label
        >Who writes
        <input v-model="form.name" class="box" maxlength="100" placeholder="School, registry" />
      </label>
      <label
        >From the address
        <input
          v-model.trim="form.address"
          class="box"
          maxlength="254"
          placeholder="registry@school.example"
          required
      /></label>
    </div>
    <div class="two">
      <label
        >Answers to
        <input v-model.trim="form.reply_to" class="box" maxlength="254" placeholder="the same" />
      </label>
      <label
        >At most so many a minute
        <input v-model.number="form.per_minute" class="box" inputmode="numeric" />
      </label>
    </div>
    <button class="btn main" :disabled="mail.busy">Save</button>
  </form>
</template>

<style scoped src="./mail.css"></style>
