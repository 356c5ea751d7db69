<script lang="ts">
  import { PLACES } from "./places";
</script>

<div class="py-8 text-lg">
  <h1 class="text-2xl font-semibold">There is nothing at this address</h1>
  <p class="my-2">
    Go to
    {#each PLACES as place, i (place.path)}{i ? ", " : ""}<a class="link" href={place.path}
        >{place.name}</a
      >{/each}.
  </p>
</div>
