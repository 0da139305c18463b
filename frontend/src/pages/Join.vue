<script setup lang="ts">
import { onMounted, ref } from 'vue'
import { useRouter } from 'vue-router'
import { lookAtLink, useLink } from '@/api/accounts'
import type { LinkLook } from '@/api/types'
import { useSession } from '@/composables/useSession'

/** A password is chosen by a link that works once; the first administrator says who they are. */
const router = useRouter()
const session = useSession()
const token = location.hash.slice(1)
const link = ref<LinkLook | null>(null)
const gone = ref('')
const problem = ref('')
const said = ref({ institution: '', name: '', sign_in: '', password: '' })
const isShown = ref(false)
const busy = ref(false)

async function choose(): Promise<void> {
  busy.value = true
  problem.value = ''
  try {
    const { sign_in } = await useLink({ token, ...said.value })
    await session.begin(sign_in, said.value.password)
    await router.push(link.value?.kind === 'first' ? '/rosters' : '/')
  } catch (error) {
    problem.value = error instanceof Error ? error.message : String(error)
  } finally {
    busy.value = false
  }
}
onMounted(async () => {
  try {
    link.value = await lookAtLink(token)
  } catch (error) {
    gone.value = error instanceof Error ? error.message : String(error)
  }
})
</script>

<template>
  <section class="join">
    <div v-if="gone" class="card">
      <h1>This link cannot be used</h1>
      <p class="flag stop" role="alert">{{ gone }}</p>
      <RouterLink class="btn" to="/sign-in">To the sign-in</RouterLink>
    </div>
    <form v-else-if="link" class="card" @submit.prevent="choose">
      <template v-if="link.kind === 'first'">
        <h1>The first one here</h1>
        <p class="soft">
          You will administer everything, and invite the others. Then drop a file that has your
          people in it.
        </p>
        <label
          >Institution <input v-model="said.institution" class="box" maxlength="120" autofocus
        /></label>
        <label
          >Your name <input v-model="said.name" class="box" maxlength="120" autocomplete="name"
        /></label>
        <label
          >Sign-in name
          <input v-model="said.sign_in" class="box" maxlength="80" autocomplete="username" required
        /></label>
      </template>
      <template v-else>
        <h1>
          {{ link.kind === 'invite' ? `Welcome, ${link.name}` : `A new password, ${link.name}` }}
        </h1>
        <p class="soft">
          Choose a password. You sign in as <b>{{ link.sign_in }}</b><template
            v-if="link.institution"
          >
            at {{ link.institution }}</template
          >.
        </p>
        <input
          class="unseen"
          :value="link.sign_in"
          autocomplete="username"
          tabindex="-1"
          aria-label="Sign-in name"
          readonly
        />
      </template>
      <label
        >Password
        <input
          v-model="said.password"
          class="box"
          :type="isShown ? 'text' : 'password'"
          autocomplete="new-password"
          aria-describedby="rule"
          required
      /></label>
      <label class="tick"><input v-model="isShown" type="checkbox" /> show it</label>
      <p id="rule" class="soft small">
        At least 10 characters. Four words that have nothing to do with each other are a good one.
      </p>
      <p v-if="problem" class="flag stop" role="alert">{{ problem }}</p>
      <button class="btn main" :disabled="busy">
        {{ link.kind === 'first' ? 'Begin' : 'Choose it and sign in' }}
      </button>
    </form>
    <p v-else class="soft" role="status">Looking what the link is for …</p>
  </section>
</template>

<style scoped>
.join {
  flex: 1;
  display: grid;
  place-items: center;
  padding: 20px;
  overflow: auto;
}
.card {
  width: min(420px, 100%);
  display: grid;
  gap: 12px;
  justify-items: start;
  background: var(--snow);
  border: 1px solid var(--line);
  padding: 22px 24px;
}
h1 {
  font-size: 20px;
  line-height: 26px;
  overflow-wrap: anywhere;
}
label:not(.tick) {
  width: 100%;
}
.box {
  display: block;
  width: 100%;
}
</style>
